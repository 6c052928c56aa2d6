import { Button, Flex, Input, Link, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useRenameLayer } from "../../api/queries/layers";
import type { Layer } from "../../api/types";
import { Panel } from "../../shared/Panel";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";

export function DeliverEntry({ layer }: { readonly layer: Layer }) {
  return (
    <Panel as="article" aria-label={layer.name}>
      <LayerName key={layer.name} layer={layer} />
      <Text color="quiet" mt="1">
        {layer.sentence}
      </Text>
      <Flex gap="3" mt="2" align="center">
        <Button asChild size="xs" bg="cool" color="card">
          <a href={`/api/layers/${layer.id}/file`} download>
            Download GeoTIFF
          </a>
        </Button>
        <Link color="cool" fontWeight="600" href={`/api/layers/${layer.id}/recipe`} download>
          Recipe as JSON
        </Link>
      </Flex>
    </Panel>
  );
}

function LayerName({ layer }: { readonly layer: Layer }) {
  const rename = useRenameLayer(useStudyId());
  const [name, setName] = useState(layer.name);
  const changed = name.trim() !== "" && name !== layer.name;
  const save = (event: React.SubmitEvent) => {
    event.preventDefault();
    if (changed) rename.mutate({ id: layer.id, name: name.trim() });
  };
  return (
    <form onSubmit={save}>
      <Flex gap="2" align="center">
        <Input
          size="xs"
          variant="flushed"
          fontWeight="650"
          aria-label="Name of the class map"
          maxLength={120}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        {changed && <Quiet type="submit">Rename</Quiet>}
      </Flex>
    </form>
  );
}

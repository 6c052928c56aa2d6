import { Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useRenameLayer } from "../../api/queries/layers";
import { usePoints } from "../../api/queries/studies";
import type { ClassMap } from "../../api/types";
import { KeepAct } from "../../shared/KeepAct";
import { Panel } from "../../shared/Panel";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import { Download } from "../../shared/Download";
import { PolygonActs } from "./PolygonActs";

/** A class map: its file, its tables, its recipe. */
export function MapEntry({ map }: { readonly map: ClassMap }) {
  const { data: points = [] } = usePoints(useStudyId());
  const address = `/api/layers/${map.id}`;
  const tables = `/api/maps/${map.id}`;
  return (
    <Panel as="article" aria-label={map.title}>
      <MapName key={map.title} map={map} />
      <Text color="quiet" mt="1">
        {map.sentence}
      </Text>
      <Flex columnGap="3" rowGap="1" mt="2" wrap="wrap" align="center">
        {map.kept ? (
          <Button asChild size="xs" bg="cool" color="card">
            <a href={`${address}/file`} download>
              Download GeoTIFF
            </a>
          </Button>
        ) : (
          <KeepAct layer={map} />
        )}
        <Download href={`${tables}/areas`}>Areas and legend as CSV</Download>
        {points.length > 0 && (
          <Download href={`${tables}/error-matrix`}>Error matrix as CSV</Download>
        )}
        <Download href={`${address}/recipe`}>Recipe as JSON</Download>
      </Flex>
      <PolygonActs map={map} />
    </Panel>
  );
}

function MapName({ map }: { readonly map: ClassMap }) {
  const rename = useRenameLayer(useStudyId());
  const [name, setName] = useState(map.title);
  const changed = name.trim() !== "" && name !== map.title;
  const save = (event: React.SubmitEvent) => {
    event.preventDefault();
    if (changed) rename.mutate({ id: map.id, title: name.trim() });
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

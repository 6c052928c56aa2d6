import { Button, Text } from "@chakra-ui/react";

import { sentenceOf } from "../../api/problem";
import { useCombineLayers } from "../../api/queries/corrections";
import { namesOfMade } from "../../shared/made";
import { plural } from "../../shared/format";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";

/** Tiles whose pixels are aligned but whose ground differs can be put beside one another. */
export function MosaicOffer({ sceneIds }: { readonly sceneIds: readonly number[] }) {
  const combine = useCombineLayers(useStudyId());
  return (
    <Remark tone="calm">
      <Text>
        Their pixels fit together: they can be put side by side as a mosaic. Where they overlap, the
        first one is on top.
      </Text>
      <Button
        size="xs"
        mt="2"
        variant="outline"
        borderColor="line"
        loading={combine.isPending}
        onClick={() => combine.mutate({ layer_ids: [...sceneIds], method: "mosaic" })}
      >
        {`Make a mosaic of ${plural(sceneIds.length, "scene")}`}
      </Button>
      {combine.error && <Text mt="1">{sentenceOf(combine.error)}</Text>}
      {combine.data && <Text mt="1">Made {namesOfMade(combine.data)}.</Text>}
    </Remark>
  );
}

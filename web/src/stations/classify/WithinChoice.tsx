import { Box } from "@chakra-ui/react";

import type { Where } from "../../api/types";
import { ClassesOfMapWidget } from "../../forms/widgets/ClassesOfMapWidget";
import { Folded } from "../../shared/Folded";
import { Quiet } from "../../shared/Quiet";

type Within = NonNullable<Where["within"]>;

interface Props {
  readonly within: Within | null;
  readonly onWithin: (within: Within | null) => void;
}

const FIELD = {
  title: "Within classes",
  description: "Only where another map on the same grid has one of these.",
};

/** Some classes of another map, within which the new one is made. */
export function WithinChoice({ within, onWithin }: Props) {
  return (
    <Folded title={within === null ? "Within classes of another map" : "Within chosen classes"}>
      <Box width="16rem">
        <ClassesOfMapWidget
          name="within"
          field={FIELD}
          value={within}
          values={{}}
          onChange={(next) => onWithin(next as Within)}
        />
        {within !== null && (
          <Quiet type="button" onClick={() => onWithin(null)}>
            Everywhere again
          </Quiet>
        )}
      </Box>
    </Folded>
  );
}

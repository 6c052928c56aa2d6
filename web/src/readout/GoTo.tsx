import { Button, Flex, Text } from "@chakra-ui/react";
import { type SyntheticEvent, useState } from "react";

import { sentenceOf } from "../api/problem";
import { useFindPlace } from "../api/queries/look";
import { centreOn, type Coordinate } from "../map";
import { OnDemandPopover } from "../shared/OnDemandPopover";
import { moveCrosshair } from "../shared/pointerStore";
import { Quiet } from "../shared/Quiet";
import { useStudyId } from "../shared/study";
import { TextField } from "../shared/TextField";
import { useWork } from "../shared/workStore";
import { parsePair } from "./parsePair";

/** Bring the panes to typed coordinates. */
export function GoTo() {
  const button = (
    <Quiet type="button" title="Key G" data-act="go-to">
      Go to
    </Quiet>
  );
  return (
    <OnDemandPopover button={button} placement="top-start" width="18rem">
      {(close) => <GoToForm onDone={close} />}
    </OnDemandPopover>
  );
}

function GoToForm({ onDone }: { readonly onDone: () => void }) {
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const linked = useWork((store) => store.linked);
  const find = useFindPlace(useStudyId());
  const arrive = (at: Coordinate) => {
    if (!linked) return;
    centreOn(linked, at);
    moveCrosshair(at);
    onDone();
  };
  const go = async (event: SyntheticEvent) => {
    event.preventDefault();
    const pair = parsePair(text);
    if (!pair) {
      setWrong("Type two numbers, such as 401 200, 4 998 300 or 45.13 N, 27.2 W.");
      return;
    }
    if (!pair.inDegrees || linked?.grid.is_geographic) {
      arrive(pair.at);
      return;
    }
    try {
      const { x, y } = await find.mutateAsync({ longitude: pair.at[0], latitude: pair.at[1] });
      arrive([x, y]);
    } catch (error) {
      setWrong(sentenceOf(error));
    }
  };
  return (
    <form onSubmit={(event) => void go(event)}>
      <TextField
        label="Coordinates"
        help="East, north in the study's system, or degrees as 45.13 N, 27.2 W"
        value={text}
        autoFocus
        onText={(next) => {
          setText(next);
          setWrong(null);
        }}
      />
      <Flex mt="2" justify="space-between" align="center" gap="2">
        <Text color="warmText" role="alert">
          {wrong}
        </Text>
        <Button type="submit" size="xs" variant="outline" borderColor="line" flex="none">
          Go there
        </Button>
      </Flex>
    </form>
  );
}

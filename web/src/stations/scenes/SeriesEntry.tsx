import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useScenes } from "../../api/queries/scenes";
import type { Series } from "../../api/types";
import { TimeStrip, timeToCsv } from "../../charts";
import { formatDate, plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { saveFile } from "../../shared/saveFile";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { TextField } from "../../shared/TextField";
import { showScene } from "../../shared/view";
import { useViewStore } from "../../shared/viewStore";
import { usePins } from "./usePins";
import { useTimeCurves } from "./useTimeCurves";

/** One series: which dates, which place, and the values there through time. */
export function SeriesEntry({ series }: { readonly series: Series }) {
  const { data: scenes = [] } = useScenes(useStudyId());
  const setPane = useViewStore((store) => store.setPane);
  const [first, setFirst] = useState<string>(series.first);
  const [last, setLast] = useState<string>(series.last);
  const { places, pin, clear } = usePins();
  const curves = useTimeCurves(series, places, first, last);
  const members = scenes.filter(
    ({ series: name, acquired }) =>
      name === series.name && acquired !== null && acquired >= first && acquired <= last,
  );
  const role = series.roles[0] ?? "";
  return (
    <>
      <Flex gap="2" align="flex-end">
        <TextField
          label="First day, included"
          type="date"
          value={first}
          onText={setFirst}
          flex="1"
        />
        <TextField label="Last day, included" type="date" value={last} onText={setLast} flex="1" />
      </Flex>
      <Text color="quiet" mt="1" role="status">
        {plural(members.length, "date")} of {role} in this time
      </Text>
      <Select
        label="Show a date on the right"
        value=""
        options={[
          { value: "", label: "choose a date" },
          ...members.map((s) => ({ value: String(s.id), label: formatDate(s.acquired) })),
        ]}
        onValue={(id) => {
          const scene = members.find((s) => String(s.id) === id);
          if (scene) setPane(1, showScene(scene));
        }}
      />
      <Flex gap="3" mt="2" wrap="wrap">
        <Quiet type="button" onClick={pin} title="Where the crosshair is; drawn areas count, too">
          Add the place of the crosshair
        </Quiet>
        {places.length > 0 && (
          <Quiet type="button" onClick={clear}>
            Clear
          </Quiet>
        )}
        {curves.length > 0 && (
          <Quiet type="button" onClick={() => saveFile(`${series.name}.csv`, timeToCsv(curves))}>
            CSV
          </Quiet>
        )}
      </Flex>
      {places.length === 0 && (
        <Text color="quiet" mt="1">
          Point at a pane and press Enter there, or draw an area below, to see its values through
          time.
        </Text>
      )}
      <TimeStrip
        curves={curves}
        yTitle={role}
        label={`${series.name} through time at ${plural(curves.length, "place")}`}
      />
      {curves.map((curve) => (
        <Flex key={curve.name} gap="2" align="center">
          <svg width="18" height="8" aria-hidden>
            <path d="M0 4h18" stroke={curve.colour} strokeWidth="2.5" />
          </svg>
          <Text truncate>{curve.name}</Text>
        </Flex>
      ))}
    </>
  );
}

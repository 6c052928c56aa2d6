import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useScenes } from "../../api/queries/scenes";
import type { Series } from "../../api/types";
import { DateField } from "../../shared/DateField";
import { formatDate, plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { showScene } from "../../shared/view";
import { useViewStore } from "../../shared/viewStore";

/** One series: which dates, and one of them on the right. */
export function SeriesEntry({ series }: { readonly series: Series }) {
  const { data: scenes = [] } = useScenes(useStudyId());
  const change = useViewStore((store) => store.change);
  const setPane = useViewStore((store) => store.setPane);
  const [first, setFirst] = useState<string>(series.first);
  const [last, setLast] = useState<string>(series.last);
  const members = scenes.filter(
    ({ series: name, acquired }) =>
      name === series.name && acquired !== null && acquired >= first && acquired <= last,
  );
  const role = series.roles[0] ?? "";
  return (
    <>
      <Flex gap="2" align="flex-end">
        <DateField label="First day, included" value={first} onDay={setFirst} flex="1" />
        <DateField label="Last day, included" value={last} onDay={setLast} flex="1" />
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
      <Quiet type="button" mt="2" onClick={() => change({ tab: "time", readoutFolded: false })}>
        Values through time
      </Quiet>
    </>
  );
}

import { Box, Checkbox, Text } from "@chakra-ui/react";

import { sentenceOf } from "../../../api/problem";
import { Remark } from "../../../shared/Remark";
import { Select } from "../../../shared/Select";
import { BreaksHistogram } from "./BreaksHistogram";
import { BreaksRows } from "./BreaksRows";
import { useBreaksStore } from "./breaksStore";
import { LayerSelect } from "./LayerSelect";
import { StartBreaks } from "./StartBreaks";
import { useBreaks, useBreaksPreview } from "./useBreaks";

/** Classes by limits over one layer. */
export function BreaksForm() {
  const breaks = useBreaks();
  useBreaksPreview(breaks);
  const { scene, role, table, counts, error } = breaks;
  const { included, outer, set } = useBreaksStore();
  return (
    <>
      <Text color="quiet" mt="2.5">
        A table of limits over one layer becomes a class map. A threshold is two rows.
      </Text>
      <Box mt="2" />
      <LayerSelect scene={scene} role={role} />
      <StartBreaks scene={scene} role={role} />
      {table && <BreaksHistogram scene={scene} role={role} />}
      <BreaksRows counts={counts} />
      {table && (
        <>
          <Box mt="2" />
          <Select
            label="Which limit belongs to a class"
            value={included}
            options={[
              { value: "lower", label: "the lower one (from … to below …)" },
              { value: "upper", label: "the upper one (above … up to …)" },
            ]}
            onValue={(next) => set({ included: next === "upper" ? "upper" : "lower" })}
          />
          <Checkbox.Root
            size="sm"
            mt="1.5"
            checked={outer}
            onCheckedChange={({ checked }) => set({ outer: checked === true })}
          >
            <Checkbox.HiddenInput />
            <Checkbox.Control />
            <Checkbox.Label fontSize="1rem">
              The {included === "lower" ? "highest" : "lowest"} limit belongs to its class too
            </Checkbox.Label>
          </Checkbox.Root>
        </>
      )}
      {error && <Remark tone="problem">{sentenceOf(error)}</Remark>}
      {!error &&
        counts?.remarks.map((remark) => (
          <Remark key={remark} tone="caution">
            {remark}
          </Remark>
        ))}
    </>
  );
}

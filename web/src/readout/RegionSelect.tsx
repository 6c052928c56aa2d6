import { Select } from "../shared/Select";
import type { RegionKind, useRegion } from "./useRegion";

interface Props {
  readonly region: ReturnType<typeof useRegion>;
}

/** Where pixels are counted. */
export function RegionSelect({ region }: Props) {
  return (
    <Select
      label="Pixels of"
      hideLabel
      value={region.kind}
      options={region.options}
      onValue={(kind) => region.setKind(kind as RegionKind)}
    />
  );
}

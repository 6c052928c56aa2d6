import type { ClassMap } from "../../api/types";
import { CheckLines } from "../../shared/CheckLines";
import { Folded } from "../../shared/Folded";

interface Props {
  /** Those that there are beside the one in hand. */
  readonly maps: readonly ClassMap[];
  readonly also: readonly number[];
  readonly onAlso: (also: readonly number[]) => void;
}

/** Other maps to which the same chain is done in one act. */
export function AlsoFor({ maps, also, onAlso }: Props) {
  if (maps.length === 0) return null;
  const n = also.length > 0 ? `, ${also.length}` : "";
  return (
    <Folded title={`The same for other maps${n}`} mt="3">
      <CheckLines
        lines={maps.map(({ id, title }) => ({ id, label: title }))}
        chosen={also}
        onChosen={onAlso}
      />
    </Folded>
  );
}

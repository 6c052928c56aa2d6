import type { PaneIndex, PaneShow } from "../shared/view";
import { ShowHandle } from "./ShowHandle";

interface Props {
  readonly index: PaneIndex;
  readonly show: Extract<PaneShow, { kind: "live" }>;
}

/** Of a map by another method: all of it, or only where it differs from that of the method in hand. */
export function LitChoice({ index, show }: Props) {
  const { lit, ...whole } = show;
  if (!show.method) return null;
  return (
    <>
      ,{" "}
      <ShowHandle
        index={index}
        label="Show all of it, or only what differs"
        text={lit ? "where it differs" : "everywhere"}
        ways={[
          { title: "everywhere", chosen: !lit, next: whole },
          {
            title: "where it differs from the method in hand",
            chosen: lit === true,
            next: { ...whole, lit: true },
          },
        ]}
      />
    </>
  );
}

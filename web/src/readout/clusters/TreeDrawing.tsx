import type { KeyboardEvent } from "react";

import { useClasses } from "../../api/queries/training";
import type { ClusterMap } from "../../api/types";
import { plural } from "../../shared/format";
import { useStudyId } from "../../shared/study";
import { type Branch, jointsIn, leavesIn } from "./treeShape";

const WIDTH = 700;
const HEIGHT = 190;
const FOOT = 160;
const HEAD = 16;
const TARGET = 12; // radius: what is pressed is 24 screen pixels wide

interface Props {
  readonly map: ClusterMap;
  readonly tree: Branch;
  readonly chosen: readonly number[];
  readonly onChoose: (branch: Branch) => void;
}

/** The tree from its leaves, the clusters, up. */
export function TreeDrawing({ map, tree, chosen, onChoose }: Props) {
  const { data: classes = [] } = useClasses(useStudyId());
  const n = map.clusters.length;
  const x = (branch: Branch) => ((branch.x + 0.5) * WIDTH) / n;
  const y = (branch: Branch) => FOOT - (branch.height / (tree.height || 1)) * (FOOT - HEAD);
  const colourOf = (leaf: number) =>
    classes.find(({ id }) => id === map.clusters[leaf]?.class_id)?.colour;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width="100%"
      height="100%"
      role="group"
      aria-label={`Tree of ${plural(n, "cluster")}`}
    >
      {jointsIn(tree).map((branch) => (
        <JointMark
          key={branch.leaves.join()}
          branch={branch}
          x={x}
          y={y}
          names={branch.leaves.map((leaf) => map.clusters[leaf]?.name ?? "").join(", ")}
          chosen={branch.leaves.join() === chosen.join()}
          onChoose={() => onChoose(branch)}
        />
      ))}
      {leavesIn(tree).map((leaf) => {
        const [at = 0] = leaf.leaves;
        return (
          <g key={at}>
            <rect
              x={x(leaf) - 6}
              y={FOOT}
              width={12}
              height={12}
              rx={2.5}
              fill={colourOf(at) ?? "none"}
              stroke="var(--chakra-colors-quiet)"
            />
            <text
              x={x(leaf)}
              y={FOOT + 26}
              textAnchor="middle"
              fontSize={12}
              fill="var(--chakra-colors-ink)"
            >
              {map.clusters[at]?.name.replace("Cluster ", "")}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

interface MarkProps {
  readonly branch: Branch;
  readonly x: (branch: Branch) => number;
  readonly y: (branch: Branch) => number;
  readonly names: string;
  readonly chosen: boolean;
  readonly onChoose: () => void;
}

function JointMark({ branch, x, y, names, chosen, onChoose }: MarkProps) {
  if (!branch.parts) return null;
  const [first, second] = branch.parts;
  const top = y(branch);
  const path = `M${x(first)},${y(first)} V${top} H${x(second)} V${y(second)}`;
  const ink = chosen ? "var(--chakra-colors-cool)" : "var(--chakra-colors-ink)";
  const press = (event: KeyboardEvent) => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    onChoose();
  };
  return (
    <>
      <path d={path} fill="none" stroke={ink} strokeWidth={chosen ? 2.4 : 1.4} />
      <g
        role="button"
        tabIndex={0}
        aria-pressed={chosen}
        aria-label={`Joint of ${names}`}
        style={{ cursor: "pointer" }}
        onClick={onChoose}
        onKeyDown={press}
      >
        <circle cx={x(branch)} cy={top} r={TARGET} fill="transparent" />
        <circle cx={x(branch)} cy={top} r={4.5} fill={ink} />
      </g>
    </>
  );
}

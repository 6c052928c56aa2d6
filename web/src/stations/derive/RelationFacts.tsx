import { sentenceOf } from "../../api/problem";
import { useRelations } from "../../api/queries/derive";
import type { Scene } from "../../api/types";
import { DataTable } from "../../shared/DataTable";
import { formatValue } from "../../shared/format";
import { Part } from "../../shared/Part";
import { Remark } from "../../shared/Remark";

/** Ranges of a stack's members, correlation between them, and near-duplicates in words. */
export function RelationFacts({ scene }: { readonly scene: Scene }) {
  const { data, error } = useRelations(scene.id);
  if (error) return <Remark tone="problem">{sentenceOf(error)}</Remark>;
  if (!data) return null;
  const ranges = data.members.map(({ role, minimum, maximum }, i) => ({
    key: role,
    cells: [i + 1, role, `${formatValue(minimum)} to ${formatValue(maximum)}`],
  }));
  const numbers = data.members.map((_, i) => ({ head: String(i + 1), end: true }));
  const correlation = data.correlation.map((row, i) => ({
    key: i,
    cells: [i + 1, ...row.map((value) => value?.toFixed(2) ?? "–")],
  }));
  return (
    <Part title="Ranges and correlation">
      {data.remarks.map((remark) => (
        <Remark key={remark} tone="caution">
          {remark}
        </Remark>
      ))}
      <DataTable
        label="Ranges"
        columns={[{ head: "#" }, { head: "layer" }, { head: "range", end: true }]}
        rows={ranges}
      />
      <DataTable label="Correlation" columns={[{ head: "r" }, ...numbers]} rows={correlation} />
    </Part>
  );
}

import type { CoefficientTable } from "../../api/types";
import { DataTable } from "../../shared/DataTable";

/** Coefficients with the roles down and the components across, as there is room. */
export function CoefficientRows({ table }: { readonly table: CoefficientTable }) {
  const { components } = table;
  const roles = components[0]?.weights.map(({ role }) => role) ?? [];
  const rows = roles.map((role) => ({
    key: role,
    cells: [
      role,
      ...components.map(({ weights }) =>
        (weights.find((one) => one.role === role)?.value ?? 0).toFixed(4),
      ),
    ],
  }));
  const columns = [{ head: "role" }, ...components.map(({ name }) => ({ head: name, end: true }))];
  return <DataTable label="Coefficients" columns={columns} rows={rows} />;
}

export { Table } from "./Table";

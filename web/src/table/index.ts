export { Table } from "./Table";
export { Chip } from "./Chip";
export { ShowTiles } from "./ShowTiles";

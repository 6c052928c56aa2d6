export { Table } from "./Table";
export { ShowTiles } from "./ShowTiles";

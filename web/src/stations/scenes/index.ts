export { ScenesCard } from "./ScenesCard";

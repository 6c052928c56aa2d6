export { ClassifyCard } from "./ClassifyCard";

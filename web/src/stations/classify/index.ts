export { ClassifyCard } from "./ClassifyCard";
export { ClassifySheet } from "./ClassifySheet";

export { CorrectCard } from "./CorrectCard";

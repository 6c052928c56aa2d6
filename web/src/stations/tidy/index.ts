export { TidyCard } from "./TidyCard";

export { CheckCard } from "./CheckCard";

export { DeriveCard } from "./DeriveCard";

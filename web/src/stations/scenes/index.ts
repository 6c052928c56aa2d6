export { BringInSheet } from "./bring/BringInSheet";
export { CatalogueSheet } from "./catalogue/CatalogueSheet";
export { ScenesCard } from "./ScenesCard";
export { ScenesSheet } from "./ScenesSheet";

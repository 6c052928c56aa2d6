export { TrainCard } from "./TrainCard";
export { TrainSheet } from "./TrainSheet";

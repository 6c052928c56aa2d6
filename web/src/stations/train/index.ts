export { TrainCard } from "./TrainCard";

export { DeliverCard } from "./DeliverCard";

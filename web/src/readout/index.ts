export { Readout } from "./Readout";

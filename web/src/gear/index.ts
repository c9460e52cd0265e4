export { GearScreen } from "./GearScreen";

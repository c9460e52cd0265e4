export { ready } from "@/gear/ready";
export { GearScreen } from "./GearScreen";

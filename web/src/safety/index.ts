export { SafetyScreen } from "./SafetyScreen";

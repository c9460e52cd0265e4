export { RulesScreen } from "./RulesScreen";

export { ready } from "@/rules/ready";
export { RulesScreen } from "./RulesScreen";

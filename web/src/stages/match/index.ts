export { MatchScreen } from "./MatchScreen";

export { ready } from "@/stages/match/ready";
export { MatchScreen } from "./MatchScreen";

export { KeepScreen } from "@/stages/keep/KeepScreen";
export { ready } from "@/stages/keep/ready";

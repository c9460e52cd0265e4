export { KeepScreen } from "@/stages/keep/KeepScreen";

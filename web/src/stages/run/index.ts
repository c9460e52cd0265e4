export { RunScreen } from "@/stages/run/RunScreen";

export { RunScreen } from "@/stages/run/RunScreen";
export { ready } from "@/stages/run/ready";

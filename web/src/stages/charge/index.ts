export { ChargeScreen } from "@/stages/charge/ChargeScreen";
export { ready } from "@/stages/charge/ready";

export { ChargeScreen } from "@/stages/charge/ChargeScreen";

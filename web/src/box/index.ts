export { BoxScreen } from "@/box/BoxScreen";

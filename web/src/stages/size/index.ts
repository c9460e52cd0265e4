export { ready } from "@/stages/size/ready";
export { SizeScreen } from "./SizeScreen";

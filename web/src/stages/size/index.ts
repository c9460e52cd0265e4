export { SizeScreen } from "./SizeScreen";

export { NewModelScreen } from "@/newmodel/NewModelScreen";

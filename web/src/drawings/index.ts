export { PlugsScreen } from "@/drawings/PlugsScreen";

export { TagsScreen } from "./TagsScreen";

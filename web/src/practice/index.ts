export { PracticeScreen } from "@/practice/PracticeScreen";

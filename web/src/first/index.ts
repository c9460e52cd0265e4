export { FirstPage } from "@/first/FirstPage";

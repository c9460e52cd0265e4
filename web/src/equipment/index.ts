export { EquipmentScreen } from "@/equipment/EquipmentScreen";

import type { Job } from "@/api/types";

export type Propulsion = Job["propulsion"];

export const NO_PROPULSION: Propulsion = {
  kind: "",
  model_class: "",
  propeller: "",
  motor_mohm: null,
  no_load_a: null,
  rotor_mm: null,
  coaxial: false,
  wing_dm2: null,
  speed_kmh: null,
  gear_ratio: null,
  wheel_mm: null,
  surface: "",
  waterline_mm: null,
  off_by: null,
};

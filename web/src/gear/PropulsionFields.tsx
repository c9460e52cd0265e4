import type { ReactElement } from "react";
import type { Propulsion } from "@/gear/propulsion";
import { fieldsOf } from "@/parts/fieldsOf";
import type { Back } from "@/parts/NumberField";
import { TextField } from "@/parts/TextField";

const SURFACES = [
  { id: "", name: "not said", note: "" },
  { id: "tarmac", name: "tarmac", note: "" },
  { id: "carpet", name: "carpet", note: "" },
  { id: "grass", name: "grass, dirt or snow", note: "" },
  { id: "sand", name: "sand", note: "" },
];
const COAXIAL = [
  { id: "false", name: "beside each other", note: "" },
  { id: "true", name: "in pairs, one above the other", note: "" },
];

/** What is asked of each kind: nobody gives a boat a wheel. */
const ASKED: Record<string, readonly (keyof Propulsion | "kv")[]> = {
  plane: ["propeller", "kv", "wing_dm2", "speed_kmh", "motor_mohm", "no_load_a"],
  sailplane: ["propeller", "kv", "motor_mohm", "no_load_a"],
  multirotor: ["propeller", "kv", "coaxial", "motor_mohm", "no_load_a"],
  helicopter: ["rotor_mm"],
  jet: [],
  car: ["speed_kmh", "kv", "gear_ratio", "wheel_mm", "surface"],
  truck: ["speed_kmh", "kv", "gear_ratio", "wheel_mm", "surface"],
  tracked: ["speed_kmh", "gear_ratio"],
  boat: ["speed_kmh", "waterline_mm"],
};
const NONE = { empty: "—" };

type Props = {
  kind: string;
  values: Propulsion;
  problems: ReadonlyMap<string, string>;
  asked?: ((path: string) => Back | undefined) | undefined;
  put: (words: string, part: Partial<Propulsion>) => void;
  /** The motor's kV, which is kept with the electronics. */
  kv: ReactElement;
};

/** What drives a model, as far as its kind has it. */
export function PropulsionFields({ kind, values, problems, asked, put, kv }: Props) {
  const { number, choice } = fieldsOf({ values, at: "propulsion.", problems, put, asked });
  const fields: Record<string, ReactElement> = {
    propeller: (
      <TextField
        key="propeller"
        label="Propeller"
        value={values.propeller}
        problem={problems.get("propulsion.propeller")}
        hint="inches, as on the blade: 10 × 4.7, or 5 × 4.3 × 3 with three blades"
        onChange={(propeller) => put("propeller", { propeller })}
      />
    ),
    kv,
    wing_dm2: number("wing_dm2", "Wing area", "area", 1, NONE),
    speed_kmh: number("speed_kmh", "Usual speed", "speed", 1, { ...NONE, hint: "as it mostly goes" }),
    motor_mohm: number("motor_mohm", "Motor’s resistance", "resistance", 5, NONE),
    no_load_a: number("no_load_a", "Its no-load current", "current", 0.1, NONE),
    rotor_mm: number("rotor_mm", "Main rotor, diameter", "length", 10, NONE),
    coaxial: choice("coaxial", "Rotors", COAXIAL, { part: (id) => ({ coaxial: id === "true" }) }),
    gear_ratio: number("gear_ratio", "Motor turns per wheel turn", "ratio", 0.1, NONE),
    wheel_mm: number("wheel_mm", "Wheel, diameter", "length", 1, NONE),
    surface: choice("surface", "Drives on", SURFACES, {
      part: (id) => ({ surface: id as Propulsion["surface"] }),
    }),
    waterline_mm: number("waterline_mm", "Length at the waterline", "length", 10, NONE),
  };
  const names = ASKED[kind] ?? ["propeller", "kv"];
  if (names.length === 0)
    return (
      <p className="text-small text-ink-faint">
        A ducted fan’s draw follows from its class and its pack; nothing more is asked here.
      </p>
    );
  return <div className="grid items-start gap-x-10 sm:grid-cols-2">{names.map((name) => fields[name])}</div>;
}

import type { Answers } from "@/api/types";
import { NO_PROPULSION } from "@/gear/propulsion";
import { NONE_HERE } from "@/gear/runsOn";
import type { Back } from "@/parts/NumberField";

export const NOTHING_YET: Answers = {
  name: "",
  kind: "",
  model_class: null,
  mass_g: null,
  rotors: null,
  now: {
    pack: null,
    joined: "",
    chemistry: "lipo",
    series: null,
    capacity_ah: null,
    mass_g: null,
    label_c: null,
  },
  usage: { minutes: null, put_back_mah: null, average_a: null, peak_a: null, peak_s: null },
  limits: {
    cells_min: null,
    cells_max: null,
    max_v: null,
    controller_a: null,
    controller_burst_a: null,
    controllers: null,
    ratings: "each",
    cutoff: null,
    brushed: false,
    motor_kv: null,
    plug: null,
    lead_awg: null,
    length_mm: null,
    width_mm: null,
    height_mm: null,
    airflow: null,
  },
  propulsion: NO_PROPULSION,
  goals: { minutes: null, mass_g: null, lively: 0.9, chemistry: null, cells: null, refitted: false },
  house_rules: null,
  sure: [],
};

/** Kept in the session under one name: what is there, over what there is of nothing. */
function kept<T extends object>(name: string, nothing: T) {
  return {
    read: (): T => {
      try {
        return { ...nothing, ...(JSON.parse(sessionStorage.getItem(name) ?? "{}") as Partial<T>) };
      } catch {
        return nothing;
      }
    },
    keep: (value: T | undefined): void => {
      try {
        if (value) sessionStorage.setItem(name, JSON.stringify(value));
        else sessionStorage.removeItem(name);
      } catch {
        // the page itself still holds it
      }
    },
  };
}

/** What has been answered so far; it stays if one leaves the page, until the model is added. */
export const { read: keptAnswers, keep: keepAnswers } = kept("cold-stack.new-model.3", NOTHING_YET);

/** How many of its packs were said to be here, kept as the answers are. */
export const { read: keptHave, keep: keepHave } = kept("cold-stack.new-model.have", NONE_HERE);

/** Whether there is enough to say something: what it is, its mass or what turns it, and its cells. */
export function saysEnough(a: Answers): boolean {
  const runs = a.now.pack !== null || a.now.series !== null;
  const turns = a.limits.motor_kv !== null && a.propulsion.propeller.trim() !== "";
  return a.kind !== "" && (a.mass_g !== null || turns) && runs;
}

/** What each question gets: the answers so far, what is wrong with them, and how one is given. */
export type Asked = {
  answers: Answers;
  problems: ReadonlyMap<string, string>;
  /** What looks like a slip, by its path. */
  asked: (path: string) => Back | undefined;
  set: (part: Partial<Answers>) => void;
};

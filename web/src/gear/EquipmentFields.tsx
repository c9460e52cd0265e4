import { useQuery } from "@tanstack/react-query";
import type { Equipment } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import { fieldsOf } from "@/parts/fieldsOf";

const NONE = { empty: "—" };

type Props = {
  values: Equipment;
  problems: ReadonlyMap<string, string>;
  put: (words: string, part: Partial<Equipment>) => void;
  assumed?: (path: string) => (() => void) | undefined;
};

/** What equipment takes: its load with bursts, the hours, the volts it accepts, a regulator between. */
export function EquipmentFields({ values, problems, put, assumed }: Props) {
  const { number, choice } = fieldsOf({
    values,
    at: "equipment.",
    problems,
    put,
    ...(assumed ? { assumed } : {}),
  });
  const { data: { regulators = [] } = {} } = useQuery(choicesQuery);
  const usual = regulators.find((x) => x.id === values.regulator);
  const regulated = values.regulator !== "none";
  return (
    <>
      {number("load_a", "Average, bursts included", "current", 0.1, {
        ...NONE,
        words: "average amps",
        part: (load_a) => (load_a === null ? { load_a } : { load_a, load_w: null }),
      })}
      {number("load_w", "or in watts", "power", 1, {
        ...NONE,
        words: "average watts",
        part: (load_w) => (load_w === null ? { load_w } : { load_w, load_a: null }),
      })}
      {number("burst_a", "Bursts", "current", 0.5, { ...NONE, hint: "all servos at once" })}
      {values.burst_a !== null && (
        <>
          {number("burst_s", "A burst lasts", "seconds", 0.1, { given: true })}
          {number("burst_every_s", "A burst every", "seconds", 5, { given: true })}
        </>
      )}
      {number("hours", "Hours of use", "hours_used", 0.5, { given: true })}
      {number("used_share", "Used of what a pack lasts", "percent", 0.05, {
        given: true,
        hint: "the rest is the reserve: half, for what flies",
      })}
      {number("least_v", "Works down to", "voltage", 0.1, { given: true })}
      {number("most_v", "Takes up to", "voltage", 0.1, { given: true })}
      {choice("regulator", "Regulator", regulators, {
        part: (id) => ({ regulator: id as Equipment["regulator"] }),
      })}
      {regulated && (
        <>
          {number("out_v", "It gives", "voltage", 0.1, NONE)}
          {number("dropout_v", "and needs above that", "voltage", 0.1, {
            empty: usual ? String(usual.dropout_v) : "—",
          })}
          {number("regulator_max_v", "It takes up to", "voltage", 0.5, NONE)}
        </>
      )}
      {values.regulator === "switching" &&
        number("efficiency", "Its efficiency", "percent", 0.01, { given: true })}
      {number("idle_ma", "Flows while switched off", "milliamps", 1, NONE)}
    </>
  );
}

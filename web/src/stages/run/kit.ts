import type { GoReason, Kit, KitOfPack } from "@/api/types";
import type { SaidHere } from "@/app/said";
import { typedVolts } from "@/format/cells";
import { preferences } from "@/format/preferences";
import { figure, shown, worded } from "@/format/quantity";
import { inWords } from "@/format/sentence";
import { whatFollows } from "@/stages/run/since";

/** What the kit says of a pack: the same figures as the check itself, or why it says nothing. */
export type ByKit =
  | { said: "nothing"; why: string }
  | {
      said: "verdict";
      verdict: GoReason["verdict"];
      fit: Kit["fit"];
      reasons: GoReason[];
      timer_s: number;
      budget_mah: number;
      alarm_v: number;
      alarm_cell_v: number;
      minutes: number;
      minutes_low: number;
      minutes_high: number;
    };

/** What this device knows beside the kit: what was said of the pack since then, whether the model's job or
 *  anything else was changed. */
export type Since = { now: number; said: readonly SaidHere[]; changed: boolean; other: boolean };

/** A kit as it was taken along: when it was asked for by this device's clock, and after how much was told. */
export type KeptKit = KitOfPack & { got: number; told: number };

const ORDER = ["no_go", "careful", "go"] as const;
const HOUR_MS = 3_600_000;
const nothing = (why: string): ByKit => ({ said: "nothing", why });

/** Compares and looks up; what it compares with was reckoned on the server. */
export function byKit(of: KeptKit, cells: string, temperature: number | null, since: Since): ByKit {
  const { kit } = of;
  if (since.changed) return nothing("The model’s job was changed since the kit was made.");
  if (since.other) return nothing("Something was taken back or changed since the kit was made.");
  const age = (since.now - of.got) / HOUR_MS;
  if (!(age < kit.good_h) || age < -1)
    return nothing(`The kit is older than the ${kit.good_h} h for which the house rules trust it.`);
  const read = typedVolts(cells, kit.series, kit.highest_v);
  if (typeof read === "string") return nothing(read);
  const volts = read.cells ?? [read.pack / kit.series];
  if (!volts.every((v) => v > 0)) return nothing("A cell does not read 0 V: read it again.");
  const at = { now: since.now, made: Date.parse(of.made), got: of.got };
  const follows = whatFollows(kit, since.said, at, temperature);
  // what is no go stays so, whatever else the kit does not know of it
  if (follows.unknown && follows.reasons.length === 0) return nothing(follows.unknown);
  const whole = read.cells === undefined;
  const [lowest, highest] = [Math.min(...volts), Math.max(...volts)];
  const values = {
    lowest_v: lowest,
    highest_v: highest,
    spread_v: whole ? null : highest - lowest,
    temperature_c: temperature,
  };
  const warmth = column(kit, temperature);
  // what is too hot to run is no go, whatever else the kit does not know of so warm a pack
  if (warmth === undefined && broken(kit, values).every((r) => r.verdict !== "no_go")) {
    const p = preferences();
    const coldest = shown("temperature", kit.warmths[0]?.from_c ?? 0, p).text;
    const hottest = worded("temperature", kit.warmths.at(-1)?.to_c ?? 0, p);
    return nothing(`The kit knows packs from ${coldest} to ${hottest}.`);
  }
  const from = lowest + TOUCHED_V - (whole ? kit.whole.below_v : 0);
  const row = kit.rows.findLast((r) => r.from_v <= from);
  const answer = warmth === undefined ? undefined : row?.answers[warmth];
  const rest = answer ? answer.reasons : row ? [] : [kit.spent];
  const unknown = whole ? kit.whole.reasons : [];
  const reasons = [...follows.reasons, ...kit.reasons, ...unknown, ...broken(kit, values), ...rest];
  reasons.sort((a, b) => ORDER.indexOf(a.verdict) - ORDER.indexOf(b.verdict));
  return {
    said: "verdict",
    verdict: reasons[0]?.verdict ?? "go",
    fit: kit.fit,
    reasons,
    timer_s: answer?.timer_s ?? 0,
    budget_mah: row?.budget_mah ?? 0,
    alarm_v: kit.alarm_v,
    alarm_cell_v: kit.alarm_cell_v,
    minutes: answer?.minutes ?? 0,
    minutes_low: answer?.minutes_low ?? 0,
    minutes_high: answer?.minutes_high ?? 0,
  };
}

/** 4.19 typed is the row of 4.19, whatever binary fractions make of either. */
const TOUCHED_V = 1e-9;

/** Which answer of a row: the first where nobody read the pack's warmth; none above what the kit knows. */
function column(kit: Kit, temperature: number | null): number | undefined {
  if (temperature === null) return 0;
  const least = kit.warmths[0]?.from_c ?? 0;
  const at = kit.warmths.findIndex(({ to_c }) => Math.max(temperature, least) < to_c);
  return at < 0 ? undefined : at + 1;
}

type Values = Record<Kit["limits"][number]["quantity"], number | null>;

function broken(kit: Kit, values: Values): GoReason[] {
  const said = new Map<string, GoReason>();
  for (const limit of kit.limits) {
    const value = values[limit.quantity];
    if (value === null || said.has(limit.id)) continue;
    if (limit.side === "below" ? value >= limit.at : value <= limit.at) continue;
    const shown = figure(value, limit.digits);
    said.set(limit.id, {
      id: limit.id,
      verdict: limit.verdict,
      sentence: inWords(limit.sentence.replace("{}", shown)),
    });
  }
  return [...said.values()];
}

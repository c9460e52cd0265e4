import type { GoReason, Kit } from "@/api/types";
import type { SaidHere } from "@/app/said";
import { typedVolts } from "@/format/cells";

/** What was said since the kit was made: what speaks against the pack, or why the kit knows no more. */
export type Follows = { reasons: GoReason[]; unknown?: string };

type State = {
  ranAt: number | undefined;
  measured: number | null;
  feltCool: boolean;
  /** Its lowest cell as it was read last, while that holds. */
  read: number | null;
  signs: Map<string, GoReason>;
  damaged: boolean;
  unknown: string | undefined;
};

const MINUTE_MS = 60_000;
const RECKONED = "that is reckoned when there is a line.";

/**
 * Goes through it in order, by what the kit says of each. `made` is when the kit was made, by the server's
 * clock, and `got` the same by this device's.
 */
export function whatFollows(
  kit: Kit,
  said: readonly SaidHere[],
  at: { now: number; made: number; got: number },
  temperature: number | null,
): Follows {
  const { since } = kit;
  const state: State = {
    ranAt: since.ran_at === null ? undefined : at.got - (at.made - 1000 * since.ran_at),
    measured: since.measured_c,
    feltCool: since.felt_cool,
    read: since.read_v,
    signs: new Map(),
    damaged: false,
    unknown: undefined,
  };
  for (const act of said) take(kit, state, act);
  const reasons = [...state.signs.values()];
  if (state.damaged) reasons.push(since.damaged);
  if (cools(kit, state, at.now, temperature)) reasons.push(since.cooling);
  return state.unknown === undefined ? { reasons } : { reasons, unknown: state.unknown };
}

function cools({ since }: Kit, state: State, now: number, temperature: number | null): boolean {
  const measured = temperature ?? state.measured;
  if (state.ranAt === undefined || (temperature === null && state.feltCool)) return false;
  if (measured !== null) return measured > since.cool_c;
  return now - state.ranAt < since.cool_min * MINUTE_MS;
}

function take(kit: Kit, state: State, act: SaidHere): void {
  const { since } = kit;
  switch (act.kind) {
    case "look":
      warmth(state, act.body.temperature_c);
      if (act.body.temperature_c === null && act.body.at_room && state.measured === null)
        state.feltCool = true;
      see(kit, state, act.body.signs);
      return;
    case "check":
      warmth(state, act.body.temperature_c);
      read(kit, state, act.body.cells);
      if (act.body.mohm.trim() || act.body.balance_min !== null)
        state.unknown = `What it resists and how it balances tells of its health: ${RECKONED}`;
      if (act.body.put_in_mah !== null) charged(kit, state, act.body.put_in_mah);
      return;
    case "charged":
      charged(kit, state, act.body.put_in_mah);
      return;
    case "lent":
    case "left":
      // the cells that are typed say more of it
      return;
    case "more":
      warmth(state, act.body.temperature_c ?? null);
      return;
    case "run":
      read(kit, state, act.body.cells ?? "");
      state.ranAt = act.at;
      state.measured = act.body.temperature_c ?? null;
      state.feltCool = false;
      state.read = null;
      see(kit, state, act.body.signs ?? [], (act.body.signs ?? []).length > 0);
      if (act.body.minutes < since.run_min)
        state.unknown = `Its run was shorter than usual, which may tell of its health: ${RECKONED}`;
      return;
  }
}

/** What does not last is over with the next look. */
function see({ since }: Kit, state: State, signs: readonly string[], look = true): void {
  const lasts = new Set(since.signs.filter((s) => s.lasts).map((s) => s.id));
  if (look) for (const id of [...state.signs.keys()]) if (!lasts.has(id)) state.signs.delete(id);
  for (const id of signs) {
    const sign = since.signs.find((s) => s.id === id);
    if (sign) state.signs.set(id, sign.reason);
  }
}

function warmth(state: State, temperature: number | null): void {
  if (temperature === null) return;
  state.measured = temperature;
  state.feltCool = false;
}

function read(kit: Kit, state: State, line: string): void {
  if (line.trim() === "") return;
  const volts = typedVolts(line, kit.series, kit.highest_v);
  if (typeof volts === "string") {
    state.unknown = `What was read of it since could not be understood: ${RECKONED}`;
    return;
  }
  const cells = volts.cells ?? [volts.pack / kit.series];
  state.read = Math.min(...cells);
  if (state.read < kit.since.damaged_v) state.damaged = true;
  if (volts.cells && Math.max(...cells) - state.read > kit.since.apart_v)
    state.unknown = `Its cells were apart when they were read since, which tells of its health: ${RECKONED}`;
  if (volts.cells) for (const sign of kit.since.signs) if (sign.read) state.signs.delete(sign.id);
}

/** It is charged full by now; what went in may tell that it holds less than it did. */
function charged(kit: Kit, state: State, mah: number | null): void {
  const { read } = state;
  const least = read === null ? 0 : (kit.since.fills.findLast((f) => f.from_v <= read)?.mah ?? 0);
  if (mah !== null && mah < least)
    state.unknown = `The charge put in less than it should hold, which tells of its health: ${RECKONED}`;
  state.measured = null;
  state.feltCool = false;
  state.read = null;
}

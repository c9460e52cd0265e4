import { Link } from "@tanstack/react-router";
import type { Match, MatchCharge } from "@/api/types";
import { usePreferences } from "@/format/preferences";
import { worded } from "@/format/quantity";
import { Stack } from "@/parts/Stack";
import { TextField } from "@/parts/TextField";
import { jointNote, Questions, Verdict } from "@/stages/match/parts";
import type { MatchChoice } from "@/stages/match/useMatchChoice";

type Props = { match: Match; choice: MatchChoice; problems: ReadonlyMap<string, string> };

/** From the supply to the pack: can it be charged, at how many amps, and what sets them. */
export function ChargeSide({ match, choice, problems }: Props) {
  const { charge } = match;
  const p = usePreferences();
  if (!charge)
    return (
      <section aria-label="On a charger">
        <h2 className="heading">On a charger</h2>
        <p className="mt-1">There is no charger yet.</p>
        <Link
          to="/gear/$kind"
          params={{ kind: "chargers" }}
          search={{ edit: "new" }}
          className="primary mt-3 inline-block"
        >
          Add a charger
        </Link>
      </section>
    );
  return (
    <section aria-label="On a charger">
      <Verdict
        where={`On ${charge.charger_name}`}
        verdict={charge.possible ? (charge.way.length > 1 ? "with" : "fits") : "no"}
        sentence={charge.settings ? charge.settings.line : `Not on ${charge.charger_name}.`}
      />
      <Choices match={match} charge={charge} choice={choice} problems={problems} />
      {charge.refusals.length > 0 && (
        <ul className="mt-3 space-y-1.5 text-plain">
          {charge.refusals.map((r) => (
            <li key={r.id} className="border-l-4 border-alert pl-2 font-medium">
              {r.sentence}
            </li>
          ))}
          {charge.halves && (
            <li className="border-l-4 border-rule-strong pl-2 text-ink-soft">{charge.halves}</li>
          )}
        </ul>
      )}
      {charge.joints.length > 0 && charge.possible && (
        <div className="mt-3.5 md:pl-4">
          <Stack
            plates={charge.joints}
            label={`From the supply to the pack, on ${charge.charger_name}`}
            note={(plate) => jointNote(plate, p)}
          />
        </div>
      )}
      <Questions words={charge.questions} />
      {charge.balance && (
        <p className="mt-3 text-plain text-ink-soft">
          {charge.way.length > 0 && <>Through {charge.way.join(", then ")}. </>}
          Balance plug: {charge.balance}
        </p>
      )}
      <p className="mt-2 flex flex-wrap gap-x-4 gap-y-1 text-plain">
        {charge.refusals.some((r) => r.id === "plugs") && (
          <Link
            to="/gear/$kind"
            params={{ kind: "chargers" }}
            search={{ lead: Number(charge.charger) }}
            className="action"
          >
            Add the lead it needs…
          </Link>
        )}
        <Link to="/gear/$kind" params={{ kind: "chargers" }} search={{ edit: "new" }} className="action">
          Add a charger…
        </Link>
        <Link to="/gear/$kind" params={{ kind: "pieces" }} search={{ edit: "new" }} className="action">
          Add a lead or adapter…
        </Link>
      </p>
    </section>
  );
}

const SELECT = "field min-w-0 py-0.5 font-medium";

type ChoicesProps = Props & { charge: MatchCharge };

function Choices({ match, charge, choice, problems }: ChoicesProps) {
  const feeds = [
    ...(charge.inputs.includes("mains") ? [{ id: "mains", name: "the mains" }] : []),
    ...(charge.inputs.includes("dc")
      ? [{ id: "dc", name: "strong DC" }, ...match.supplies.map((s) => ({ id: `dc:${s.id}`, name: s.name }))]
      : []),
  ];
  const feed = charge.source === "mains" ? "mains" : charge.supply ? `dc:${charge.supply}` : "dc";
  const setFeed = (id: string) =>
    choice.set({
      charger: charge.charger,
      source: id === "mains" ? "mains" : "dc",
      supply: id.split(":")[1],
    });
  return (
    <div className="mt-2.5 flex flex-wrap items-end gap-x-5 gap-y-2 text-plain">
      <div className="grid">
        <label htmlFor="match-charger" className="label text-plain">
          Charger
        </label>
        <select
          id="match-charger"
          className={SELECT}
          value={charge.charger}
          onChange={(e) =>
            choice.set({ charger: e.target.value, source: undefined, supply: undefined, ports: undefined })
          }
        >
          {match.chargers.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}: {c.short}
              {c.minutes !== null ? `, ${worded("whole_minutes", c.minutes)}` : ""}
            </option>
          ))}
        </select>
      </div>
      <div className="grid">
        <label htmlFor="match-fed-by" className="label text-plain">
          Fed by
        </label>
        <select id="match-fed-by" className={SELECT} value={feed} onChange={(e) => setFeed(e.target.value)}>
          {feeds.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </select>
      </div>
      {charge.ports > 1 && (
        <div className="grid">
          <label htmlFor="match-ports-in-use" className="label text-plain">
            Ports in use
          </label>
          <select
            id="match-ports-in-use"
            className={SELECT}
            value={charge.ports_in_use}
            onChange={(e) => choice.set({ charger: charge.charger, ports: Number(e.target.value) })}
          >
            {Array.from({ length: charge.ports }, (_, i) => i + 1).map((n) => (
              <option key={n} value={n}>
                {n} of {charge.ports}
              </option>
            ))}
          </select>
        </div>
      )}
      <div className="w-44">
        <TextField
          label="Volts now, cells or pack"
          value={choice.cells}
          mono
          placeholder="as landed"
          problem={problems.get("charge.cells") ?? problems.get("charge.supply")}
          onChange={(cells) => choice.set({ cells: cells || undefined })}
        />
      </div>
    </div>
  );
}

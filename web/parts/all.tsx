import { type ReactNode, StrictMode, useState } from "react";
import { createRoot } from "react-dom/client";
import type { Working } from "@/api/types";
import { YAxis } from "@/charts/Axes";
import { Chart, Level, Line } from "@/charts/Chart";
import { axisScale } from "@/charts/scale";
import { useWidth } from "@/charts/useWidth";
import { CURRENCIES, setPreference, usePreferences } from "@/format/preferences";
import { ChoiceField } from "@/parts/ChoiceField";
import { Failed } from "@/parts/Failed";
import { Figure } from "@/parts/Figure";
import { FIT_WORDS, FitMark } from "@/parts/FitMark";
import { Folded } from "@/parts/Folded";
import { fieldsOf } from "@/parts/fieldsOf";
import { Mark } from "@/parts/Mark";
import { OneOf } from "@/parts/OneOf";
import { Pick } from "@/parts/Pick";
import { Quantity } from "@/parts/Quantity";
import { SearchField } from "@/parts/SearchField";
import { Sheet } from "@/parts/Sheet";
import { Term } from "@/parts/Term";
import { TextField } from "@/parts/TextField";
import { TimeField } from "@/parts/TimeField";
import { Waiting } from "@/parts/Waiting";
import "@/styles.css";

const WORKING: Working = {
  title: "Charge to use",
  steps: [
    { label: "Held", formula: "capacity × state of health", numbers: "4 Ah × 0.97 = 3.88 Ah", rule: "" },
    {
      label: "Used",
      formula: "held × share",
      numbers: "3.88 Ah × 0.8 = 3.1 Ah",
      rule: "House rules “Steady”",
    },
  ],
  note: "",
};
const PACKS = Array.from({ length: 500 }, (_, k) => ({
  id: String(k),
  name: `${String(k + 1).padStart(3, "0")} Hollin 4S ${2000 + 10 * k} 25C`,
}));

const FULL = [
  { id: "full", name: "Full" },
  { id: "spent", name: "Spent" },
];

function Shelf({ name, children }: { name: string; children: ReactNode }) {
  return (
    <section className="border-t py-4">
      <h2 className="heading mb-2">{name}</h2>
      {children}
    </section>
  );
}

function Fields() {
  const [values, setValues] = useState({ mass_g: 420, odd_g: 4200, minutes: null, peak_a: 46, plug: "xt60" });
  const { number, choice } = fieldsOf({
    values,
    at: "",
    problems: new Map([["minutes", "At most 600 min is possible."]]),
    put: (_, part) => setValues({ ...values, ...part }),
    assumed: (path) => (path === "peak_a" ? () => undefined : undefined),
    asked: (path) =>
      path === "odd_g"
        ? {
            sentence: "4200 g hardly goes with such a pack. Did you mean 420 g?",
            meant: 420,
            onSure: () => undefined,
          }
        : undefined,
  });
  return (
    <div className="max-w-72">
      {number("mass_g", "Pack, at most", "mass", 5, { hint: "with its plug" })}
      {number("odd_g", "Pack, asked back", "mass", 5)}
      {number("minutes", "Minutes, at least", "minutes", 0.5)}
      {number("peak_a", "Peak", "current", 1, { given: true })}
      {choice("plug", "Plug", [
        { id: "xt60", name: "XT60", note: "" },
        { id: "ec3", name: "EC3", note: "" },
      ])}
      <ChoiceField
        label="Cut-off"
        value="a"
        choices={[{ id: "a", name: "by cells", note: "" }]}
        onChange={() => undefined}
        problem="Say which."
      />
    </div>
  );
}

function Written() {
  const [text, setText] = useState("Fellside 4S");
  const [time, setTime] = useState("14:30");
  const [find, setFind] = useState("");
  const [pack, setPack] = useState("7");
  const [full, setFull] = useState<string>("full");
  return (
    <div className="grid max-w-md gap-3">
      <TextField label="Name" value={text} onChange={setText} hint="as on its label" />
      <TextField label="Name, refused" value="" onChange={setText} problem="Give it a name." />
      <TimeField label="From" value={time} onChange={(t) => t && setTime(t)} />
      <SearchField label="Search packs" value={find} onChange={setFind} />
      <Pick label="Pack" options={PACKS} value={pack} onPick={setPack} />
      <OneOf label="How full" value={full} choices={FULL} onChange={setFull} />
    </div>
  );
}

function Drawn() {
  const [box, width] = useWidth<HTMLDivElement>(320);
  const x = axisScale([0, 10], [40, width - 20]).scale;
  const y = axisScale([14, 17], [130, 20], 34);
  return (
    <Chart
      box={box}
      width={width}
      height={150}
      title="volts under load, by minute"
      words="From 16.8 V to 14.2 V."
    >
      <YAxis axis={y} left={40} right={width - 20} />
      <Line xs={[0, 5, 10]} ys={[16.8, 15.2, 14.2]} x={x} y={y.scale} />
      <Level at={y.scale(14)} left={40} right={width - 20} stroke="var(--heat-4)" name="alarm 14.0 V" />
    </Chart>
  );
}

function Units() {
  const p = usePreferences();
  return (
    <p className="flex flex-wrap gap-2">
      {(["g", "oz"] as const).map((mass) => (
        <button
          key={mass}
          type="button"
          className="control"
          aria-pressed={p.mass === mass}
          onClick={() => setPreference("mass", mass)}
        >
          {mass}
        </button>
      ))}
      {(["24", "12"] as const).map((time) => (
        <button
          key={time}
          type="button"
          className="control"
          aria-pressed={p.time === time}
          onClick={() => setPreference("time", time)}
        >
          {time} h
        </button>
      ))}
      {CURRENCIES.map((sign) => (
        <button
          key={sign}
          type="button"
          className="control"
          aria-pressed={p.currency === sign}
          onClick={() => setPreference("currency", sign)}
        >
          {sign}
        </button>
      ))}
    </p>
  );
}

/** Every part of the screens in its states, on one page, for whoever builds with them; it is not shipped. */
function All() {
  const [open, setOpen] = useState(false);
  return (
    <main className="mx-auto max-w-5xl px-6 py-6">
      <h1 className="flex items-center gap-2 text-title font-semibold">
        <Mark /> Parts
      </h1>
      <Shelf name="Units, times, prices">
        <Units />
      </Shelf>
      <Shelf name="Numbers">
        <p className="flex flex-wrap gap-6">
          <Quantity kind="mass" value={402.4} />
          <Quantity kind="voltage" value={16.8} />
          <Quantity kind="price" value={24.9} />
          <Figure working={WORKING} label="Charge to use">
            3100 mAh
          </Figure>
          <Figure working={undefined} label="Without a working">
            12.4 min
          </Figure>
          <Term word="S">4S</Term>
        </p>
      </Shelf>
      <Shelf name="Rows of a form: given, refused, assumed, chosen">
        <Fields />
      </Shelf>
      <Shelf name="Words, times, one of many">
        <Written />
      </Shelf>
      <Shelf name="Presses">
        <p className="flex flex-wrap items-center gap-4">
          <button type="button" className="primary">
            Add a pack
          </button>
          <button type="button" className="control">
            Steps…
          </button>
          <button type="button" className="control" disabled>
            Steps…
          </button>
          <button type="button" className="action">
            Add a charger…
          </button>
          <button type="button" className="control" onClick={() => setOpen(true)}>
            A sheet
          </button>
        </p>
        <Sheet open={open} onClose={() => setOpen(false)} title="A sheet" loses="what was typed">
          <p className="px-5 py-4">It asks before it loses something.</p>
        </Sheet>
      </Shelf>
      <Shelf name="Verdicts">
        <ul className="grid gap-1">
          {(["does", "care", "unknown", "wont"] as const).map((verdict) => (
            <li key={verdict} className="flex items-center gap-2">
              <FitMark verdict={verdict} /> {FIT_WORDS[verdict]}
            </li>
          ))}
        </ul>
      </Shelf>
      <Shelf name="Waiting, failed, folded">
        <Waiting words="Running every candidate through the job…" />
        <Failed error={new Error("The server does not answer.")} onRetry={() => undefined} className="" />
        <Folded name="5 signs, all fine">
          <p>Its cells resist alike.</p>
        </Folded>
      </Shelf>
      <Shelf name="A chart">
        <Drawn />
      </Shelf>
    </main>
  );
}

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <All />
    </StrictMode>,
  );

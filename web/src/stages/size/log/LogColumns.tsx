import type { Log, LogChosen } from "@/api/types";
import { NumberField } from "@/parts/NumberField";

type Props = { log: Log; onChoose: (chosen: LogChosen) => void };
type Column = Log["columns"][number];
type Quantity = Column["quantity"];

const QUANTITIES: [Quantity, string][] = [
  ["", "nothing of these"],
  ["time", "time"],
  ["date", "date"],
  ["volts", "volts of the pack"],
  ["cell_volts", "volts of a cell"],
  ["amps", "amps"],
  ["watts", "watts"],
];
const MISSING: Record<string, string> = { time: "time", volts: "volts", amps: "amps (or watts)" };
const UNIT_WORDS: Record<string, string> = { clock: "clock time", us: "µs", date: "date" };
const SELECT =
  "min-h-6 min-w-0 cursor-pointer border-b bg-transparent py-0.5 [&>option]:bg-sheet [&>option]:text-ink";

/** Which column of a log is what, in which unit: as recognised or remembered, to be said where not. */
export function LogColumns({ log, onChoose }: Props) {
  const { missing } = log;
  const cells = log.columns.filter((c) => c.quantity === "cell_volts").length;
  const noVolts = !log.columns.some((c) => c.quantity === "volts");
  const say = (columns: Column[], part: Partial<LogChosen> = {}) =>
    onChoose({
      uses: columns.flatMap((c) =>
        c.quantity === "" ? [] : [{ index: c.index, quantity: c.quantity, unit: c.unit }],
      ),
      step_s: log.step_s,
      cells: log.cells,
      ...part,
    });
  const change = (index: number, part: Partial<Column>) =>
    say(
      log.columns.map((c) => {
        if (c.index === index) return { ...c, ...part };
        // one column for each; cells may be several
        const taken = part.quantity === c.quantity && part.quantity !== "cell_volts" && c.quantity !== "";
        return taken ? { ...c, quantity: "" as const, unit: "" } : c;
      }),
    );
  const guessed = log.columns.some((c) => c.quantity !== "" && c.quantity !== "time" && !c.given);
  const open = missing.length > 0 || log.wrong !== "";
  return (
    <div className="mt-4">
      {missing.length > 0 && (
        <p role="alert" className="border-l-4 border-alert pl-3">
          <span className="font-semibold">
            Still to be said: {missing.map((m) => MISSING[m]).join(", ")}.
          </span>{" "}
          Choose which column is which; it is remembered for files that look alike.
        </p>
      )}
      {log.wrong && (
        <p role="alert" className="border-l-4 border-alert pl-3">
          {log.wrong}
        </p>
      )}
      {log.remembered && (
        <p className="border-l-4 border-fjord pl-3">
          Read as you chose for a file that looked alike. Change it below if this one is otherwise.
        </p>
      )}
      {guessed && !log.remembered && missing.length === 0 && (
        <p className="border-l-4 border-ink pl-3">
          The columns have no names: what they are is told by their figures. Check them.
        </p>
      )}
      <details open={open} className="mt-2">
        <summary className="py-1">
          <span className="heading">Columns</span>{" "}
          <span className="text-small text-ink-soft">{log.columns.flatMap(inWords).join("; ")}</span>
        </summary>
        <table className="w-full border-collapse text-left text-plain">
          <thead className="head [&_th]:pr-3">
            <tr>
              <th scope="col">Column</th>
              <th scope="col" className="hidden sm:table-cell">
                First figures
              </th>
              <th scope="col">It is</th>
              <th scope="col">In</th>
            </tr>
          </thead>
          <tbody>
            {log.columns.map((c) => (
              <Line key={c.index} column={c} units={log.units} onChange={(part) => change(c.index, part)} />
            ))}
          </tbody>
        </table>
        {!log.columns.some((c) => c.quantity === "time") && (
          <div className="max-w-sm">
            <NumberField
              label="No time column: from row to row"
              kind="seconds"
              step={0.1}
              optional
              placeholder="—"
              hint="five rows a second are 0.2 s apart"
              value={log.step_s}
              onChange={(step_s) => say(log.columns, { step_s })}
            />
          </div>
        )}
        {cells === 1 && noVolts && (
          <div className="max-w-sm">
            <NumberField
              label="Cells in series"
              kind="count"
              step={1}
              optional
              placeholder="—"
              value={log.cells}
              onChange={(count) => say(log.columns, { cells: count })}
            />
          </div>
        )}
      </details>
    </div>
  );
}

type LineProps = { column: Column; units: Log["units"]; onChange: (part: Partial<Column>) => void };

function Line({ column, units, onChange }: LineProps) {
  const name = column.header || `column ${column.index + 1}`;
  const choices = units[column.quantity] ?? [];
  return (
    <tr className="border-b border-hollow">
      <th scope="row" className="py-1 pr-3 text-left font-medium">
        {name}
        <span className="number block text-fine font-normal text-ink-faint sm:hidden">
          {column.samples[0]}
        </span>
      </th>
      <td className="number hidden py-1 pr-3 text-small text-ink-soft sm:table-cell">
        {column.samples.join("  ")}
      </td>
      <td className="py-1 pr-3">
        <select
          aria-label={`${name} is`}
          className={`${SELECT}
            ${column.quantity ? "border-rule-strong font-medium" : "border-transparent text-ink-faint"}`}
          value={column.quantity}
          onChange={(e) => {
            const quantity = e.target.value as Quantity;
            onChange({ quantity, unit: units[quantity]?.[0] ?? "" });
          }}
        >
          {QUANTITIES.map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </select>
      </td>
      <td className="py-1">
        {choices.length > 1 && (
          <select
            aria-label={`Unit of ${name}`}
            className={`${SELECT} border-rule-strong`}
            value={column.unit}
            onChange={(e) => onChange({ unit: e.target.value })}
          >
            {choices.map((unit) => (
              <option key={unit} value={unit}>
                {UNIT_WORDS[unit] ?? unit}
              </option>
            ))}
          </select>
        )}
      </td>
    </tr>
  );
}

function inWords(c: Column): string[] {
  if (c.quantity === "") return [];
  const words = QUANTITIES.find(([id]) => id === c.quantity)?.[1] ?? c.quantity;
  const unit = c.unit && c.unit !== "date" ? `, ${UNIT_WORDS[c.unit] ?? c.unit}` : "";
  return [`${c.header || `column ${c.index + 1}`} → ${words}${unit}`];
}

import { useQuery } from "@tanstack/react-query";
import { ApiProblem } from "@/api/problem";
import type { PracticeKind, PracticeSheet, PracticeSheetAsk, PracticeStep } from "@/api/types";
import { choicesQuery } from "@/app/queries";
import { ChoiceField } from "@/parts/ChoiceField";
import { Failed } from "@/parts/Failed";
import { NumberField } from "@/parts/NumberField";
import { anySeed, LEVELS, type Level, levelName, useAddress } from "@/practice/address";
import { CoursesPart } from "@/practice/CoursesPart";
import { PaperTask } from "@/practice/PaperTask";
import { sheetQuery } from "@/practice/queries";

const FIRST_SEED = 1;
const FIRST_COUNT = 6;

/** For instructors: a sheet of tasks to print, its answers on a page of their own; and courses. */
export function SheetScreen({ kinds }: { kinds: PracticeKind[] }) {
  const { at, to } = useAddress();
  const { data: choices } = useQuery(choicesQuery);
  const steps = stepsOf(at.steps) ?? kinds.map((k) => ({ kind: k.id, level: "first_day" as Level }));
  const ask: PracticeSheetAsk = {
    steps,
    count: at.count ?? FIRST_COUNT,
    seed: at.seed ?? FIRST_SEED,
    house_rules: at.rules ?? null,
  };
  const sheet = useQuery({ ...sheetQuery(ask), enabled: steps.length > 0 });
  const problems = sheet.error instanceof ApiProblem ? sheet.error.fields : new Map<string, string>();
  const say = (part: {
    steps?: PracticeStep[];
    count?: number;
    seed?: number;
    rules?: string | undefined;
  }) => {
    const { steps: next, ...rest } = part;
    to({ ...at, ...rest, ...(next ? { steps: next.map((s) => `${s.kind} ${s.level}`) } : {}) });
  };
  return (
    <main className="mx-auto w-full max-w-6xl flex-1 px-4 py-5 md:px-6 print:m-0 print:max-w-none print:p-0">
      <div className="print-hidden">
        <div className="flex flex-wrap items-baseline gap-x-6 gap-y-2">
          <h1 className="text-title font-semibold tracking-tight">For instructors</h1>
          <button type="button" className="action" onClick={() => to({ who: at.who }, false)}>
            Back to practice
          </button>
          <a className="action" href="/api/practice/answers.csv" download>
            Every answer as CSV
          </a>
          <button
            type="button"
            className="primary ml-auto"
            disabled={!sheet.data || sheet.isFetching}
            onClick={() => window.print()}
          >
            Print sheet and answers
          </button>
        </div>
        <div className="mt-4 grid grid-cols-1 gap-x-12 gap-y-6 md:grid-cols-[minmax(0,24rem)_minmax(0,1fr)]">
          <KindsTable kinds={kinds} steps={steps} onChange={(next) => say({ steps: next })} />
          <div className="max-w-md space-y-1">
            <NumberField
              label="Tasks"
              kind="count"
              value={ask.count}
              step={1}
              problem={problems.get("count")}
              onChange={(count) => count !== null && say({ count })}
            />
            <NumberField
              label="Seed"
              hint="the same seed gives the same sheet"
              kind="count"
              value={ask.seed}
              step={1}
              problem={problems.get("seed")}
              onChange={(seed) => seed !== null && say({ seed })}
            />
            <p className="text-right">
              <button type="button" className="action" onClick={() => say({ seed: anySeed() % 10_000 })}>
                Other tasks
              </button>
            </p>
            <ChoiceField
              label="Judged by"
              value={ask.house_rules ?? ""}
              choices={[{ id: "", name: "the house’s rules", note: "" }, ...(choices?.house_rules ?? [])]}
              onChange={(rules) => say({ rules: rules || undefined })}
            />
            <CoursesPart
              steps={steps}
              rules={ask.house_rules}
              onOpen={(course) => say({ steps: course.steps, rules: course.house_rules ?? undefined })}
            />
          </div>
        </div>
      </div>
      {steps.length === 0 && <p className="mt-6 text-ink-faint">Tick at least one kind of task.</p>}
      {sheet.error && problems.size === 0 && (
        <Failed error={sheet.error} onRetry={() => void sheet.refetch()} />
      )}
      {sheet.data && steps.length > 0 && <Paper sheet={sheet.data} />}
    </main>
  );
}

/** "label first_day" → a step. */
function stepsOf(held: string[] | undefined): PracticeStep[] | undefined {
  return held?.flatMap((word) => {
    const [kind = "", level = ""] = word.split(" ");
    const known = LEVELS.find((x) => x.id === level);
    return known ? [{ kind, level: known.id }] : [];
  });
}

type TableProps = { kinds: PracticeKind[]; steps: PracticeStep[]; onChange: (steps: PracticeStep[]) => void };

/** Which kinds at which levels, in the order in which they were ticked. */
function KindsTable({ kinds, steps, onChange }: TableProps) {
  const place = (kind: string, level: Level) => steps.findIndex((s) => s.kind === kind && s.level === level);
  return (
    <table className="w-full self-start">
      <caption className="heading pb-1 text-left">
        Kinds and levels, in the order in which you tick them
      </caption>
      <thead className="head">
        <tr>
          <th scope="col" className="text-left">
            kind
          </th>
          {LEVELS.map((x) => (
            <th key={x.id} scope="col">
              {x.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {kinds.map((k) => (
          <tr key={k.id} className="border-b">
            <th scope="row" className="py-1 text-left font-normal">
              {k.name}
            </th>
            {LEVELS.map((x) => {
              const at = place(k.id, x.id);
              return (
                <td key={x.id} className="whitespace-nowrap text-center">
                  <input
                    type="checkbox"
                    className="align-middle"
                    aria-label={`${k.name}, ${x.name}${at >= 0 ? `: number ${at + 1}` : ""}`}
                    checked={at >= 0}
                    onChange={() =>
                      onChange(
                        at >= 0 ? steps.filter((_, i) => i !== at) : [...steps, { kind: k.id, level: x.id }],
                      )
                    }
                  />
                  <span
                    className="number inline-block w-5 text-left text-fine text-ink-faint"
                    aria-hidden="true"
                  >
                    {at >= 0 ? at + 1 : ""}
                  </span>
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** As it is printed: the tasks, then, on a page of their own, what is right. */
function Paper({ sheet }: { sheet: PracticeSheet }) {
  const head = `Seed ${sheet.seed}, judged by the house rules “${sheet.rules}”`;
  return (
    <div className="mt-8 border-t pt-6 print:m-0 print:border-0 print:p-0 print:text-small">
      <section aria-label="The sheet">
        <div className="flex flex-wrap items-baseline justify-between gap-x-6">
          <h2 className="text-title font-semibold">Battery practice</h2>
          <p className="text-small">Name ______________________ Date ______________</p>
        </div>
        <p className="text-small text-ink-faint">{head}</p>
        <ol className="mt-3 gap-x-10 md:columns-2 print:columns-2">
          {sheet.tasks.map((t, i) => (
            <PaperTask key={`${t.task.kind} ${t.task.seed}`} number={i + 1} task={t} />
          ))}
        </ol>
      </section>
      <section
        aria-label="Answers"
        className="mt-8 border-t pt-6 print:m-0 print:break-before-page print:border-0"
      >
        <h2 className="text-title font-semibold">Answers</h2>
        <p className="text-small text-ink-faint">{head}</p>
        <ol className="mt-3 gap-x-10 md:columns-2 print:columns-2">
          {sheet.tasks.map((t, i) => (
            <li key={`${t.task.kind} ${t.task.seed}`} className="mb-3 break-inside-avoid">
              <p className="font-semibold">
                {i + 1}. {t.name} <span className="text-small font-normal">({levelName(t.task.level)})</span>
              </p>
              {t.task.questions.map((q, k) => (
                <p key={q.id}>
                  <span className="text-small text-ink-faint">{q.words}</span> <b>{t.right[k]}</b>
                </p>
              ))}
              <p className="text-fine text-ink-faint">{t.why.join("; ")}</p>
            </li>
          ))}
        </ol>
        <p className="mt-4 text-small">
          Makers’ data sheets, local codes and licensed practice come first. Nobody charges alone, asleep, or
          a pack that is damaged.
        </p>
      </section>
    </div>
  );
}

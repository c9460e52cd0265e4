import { useQuery } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { type FormEvent, useState } from "react";
import { ApiProblem } from "@/api/problem";
import type { PracticeAsk, PracticeJudged, PracticeTask } from "@/api/types";
import { Failed } from "@/parts/Failed";
import { Figure } from "@/parts/Figure";
import { OneOf } from "@/parts/OneOf";
import { StageWaiting } from "@/parts/StageWaiting";
import { useTitle } from "@/parts/useTitle";
import { QuestionField } from "@/practice/QuestionField";
import { judge, kindsQuery, type Said, taskQuery } from "@/practice/queries";
import { ThingDrawn } from "@/practice/ThingDrawn";

const LEVELS = [
  { id: "first_day", name: "first day" },
  { id: "season", name: "a season" },
  { id: "expert", name: "expert" },
] as const;
const MOST_SEED = 2 ** 31 - 1;

/** One task at a time, at a bench that cannot burn. */
export function PracticeScreen() {
  useTitle("Practice");
  const { kind, level, seed } = useSearch({ from: "/practice" });
  const navigate = useNavigate();
  const kinds = useQuery(kindsQuery);
  const chosen = kind ?? kinds.data?.[0]?.id;
  const ask: PracticeAsk = {
    kind: chosen ?? "label",
    level: level ?? "first_day",
    seed: seed ?? 1,
    house_rules: null,
  };
  const task = useQuery({ ...taskQuery(ask), enabled: chosen !== undefined });
  const go = (part: { kind?: string; level?: PracticeAsk["level"]; seed?: number }) =>
    void navigate({
      to: "/practice",
      search: { kind: ask.kind, level: ask.level, seed: ask.seed, ...part },
      replace: true,
    });
  const error = kinds.error ?? task.error;
  if (error) return <Failed error={error} onRetry={() => void task.refetch()} className="px-6 py-10" />;
  if (!kinds.data || !task.data) return <StageWaiting heading="Practice" words="Laying out a task…" />;
  return (
    <main className="mx-auto w-full max-w-5xl flex-1 px-4 py-5 md:px-6">
      <h1 className="text-title font-semibold tracking-tight">Practice</h1>
      <p className="mt-0.5 max-w-prose text-ink-faint">
        Made-up packs at a bench that cannot burn, judged as the program judges yours.
      </p>
      <div className="mt-4 flex flex-wrap gap-x-8 gap-y-2">
        <OneOf label="Kind of task" value={ask.kind} choices={kinds.data} onChange={(id) => go({ kind: id })} />
        <OneOf label="Level" value={ask.level} choices={LEVELS} onChange={(id) => go({ level: id })} />
      </div>
      <TaskPart
        key={`${ask.kind} ${ask.level} ${ask.seed}`}
        ask={ask}
        task={task.data}
        onNext={() => go({ seed: Math.floor(Math.random() * MOST_SEED) })}
      />
    </main>
  );
}

type TaskProps = { ask: PracticeAsk; task: PracticeTask; onNext: () => void };

function TaskPart({ ask, task, onNext }: TaskProps) {
  const [said, setSaid] = useState<Said>({});
  const [judged, setJudged] = useState<PracticeJudged>();
  const [problems, setProblems] = useState<ReadonlyMap<string, string>>(new Map());
  const answer = async (e: FormEvent) => {
    e.preventDefault();
    const whole = { ...said };
    // an order that was left as it lies is an answer too
    for (const q of task.questions)
      if (q.asks.shape === "order" && !(q.id in whole)) whole[q.id] = q.asks.options.map((o) => o.id);
    try {
      setJudged(await judge(ask, whole));
      setProblems(new Map());
    } catch (wrong) {
      setProblems(wrong instanceof ApiProblem ? wrong.fields : new Map([["", "It could not be judged."]]));
    }
  };
  return (
    <div className="mt-5 grid grid-cols-1 gap-x-10 gap-y-6 md:grid-cols-2">
      <section aria-label="The task">
        <p className="text-lead font-semibold">{task.words}</p>
        <div className="mt-3 flex flex-wrap items-start gap-4">
          {task.things.map((thing) => (
            <ThingDrawn key={thing.name} thing={thing} />
          ))}
        </div>
      </section>
      <form className="space-y-4" onSubmit={(e) => void answer(e)}>
        {task.questions.map((q) => (
          <QuestionField
            key={q.id}
            question={q}
            said={said[q.id]}
            problem={problems.get(q.id)}
            onSay={(value) => {
              const { [q.id]: _, ...rest } = said;
              setSaid(value === undefined ? rest : { ...rest, [q.id]: value });
              setJudged(undefined);
            }}
          />
        ))}
        <p className="flex gap-3">
          <button type="submit" className="primary min-h-9">
            Answer
          </button>
          <button type="button" className="control min-h-9" onClick={onNext}>
            Another
          </button>
        </p>
        {problems.has("") && <p className="text-alert">{problems.get("")}</p>}
        {judged && <Outcome judged={judged} task={task} />}
      </form>
    </div>
  );
}

const OUTCOMES = { right: "Right", wasteful: "Not so", dangerous: "That burns" };

/** What came of it, question by question; what would have burnt says so. */
function Outcome({ judged, task }: { judged: PracticeJudged; task: PracticeTask }) {
  const words = new Map(task.questions.map((q) => [q.id, q.words]));
  return (
    <section role="status" aria-label="What came of it" className="border-t pt-3">
      <ul className="space-y-2">
        {judged.came.map((c) => (
          <li
            key={c.question}
            className={`border-l-4 pl-3 ${c.outcome === "dangerous" ? "border-alert" : "border-rule-strong"}`}
          >
            <p className="text-small text-ink-faint">{words.get(c.question)}</p>
            <p>
              <b className={c.outcome === "dangerous" ? "text-alert" : ""}>{OUTCOMES[c.outcome]}.</b>{" "}
              {c.outcome === "right" ? c.sentence.replace(/^Right\.\s*/, "") : c.sentence}
            </p>
            {c.outcome !== "right" && <p className="text-small">Right: {c.right}</p>}
          </li>
        ))}
      </ul>
      <p className="mt-3">
        <Figure working={judged.working} label={judged.working.title} className="font-semibold">
          Show the working
        </Figure>
        {judged.rule && <span className="ml-2 text-small text-ink-faint">by {judged.rule}</span>}
      </p>
    </section>
  );
}

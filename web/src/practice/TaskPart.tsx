import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { fieldsOf, wordsOf } from "@/api/problem";
import type { PracticeAsk, PracticeJudged, PracticeKind, PracticeProgress, PracticeTask } from "@/api/types";
import { touched } from "@/app/act";
import { Failed } from "@/parts/Failed";
import { levelName } from "@/practice/address";
import { OutcomePart } from "@/practice/OutcomePart";
import { QuestionField } from "@/practice/QuestionField";
import { judge, keep, type Said, taskQuery } from "@/practice/queries";
import { ThingDrawn } from "@/practice/ThingDrawn";

type Props = {
  ask: PracticeAsk;
  kind: PracticeKind | undefined;
  progress: PracticeProgress | undefined;
  why: "due" | "new" | "ahead" | undefined;
  /** Another task of the same kind, this one left unanswered. */
  onSkip: () => void;
  onNext: (after: PracticeProgress | undefined) => void;
};

const WHYS = { due: "comes back today", new: "new to you", ahead: "nothing is due; this is next" };

/** One task: what lies before one, what is asked, what came of the answer. */
export function TaskPart({ ask, kind, progress, why, onSkip, onNext }: Props) {
  const task = useQuery(taskQuery(ask));
  if (task.error) return <Failed error={task.error} onRetry={() => void task.refetch()} />;
  if (!task.data)
    return (
      <p className="min-h-96 text-ink-faint" role="status">
        Laying out a task…
      </p>
    );
  const what = [levelName(ask.level), task.data.own && "your own gear", why && WHYS[why]].filter(Boolean);
  return (
    <section aria-labelledby="task-name" className="min-w-0">
      <h2 id="task-name" className="text-lead font-semibold">
        {kind?.name} <span className="ml-2 text-small font-normal text-ink-faint">{what.join(" · ")}</span>
      </h2>
      <Answering ask={ask} task={task.data} kind={kind} progress={progress} onSkip={onSkip} onNext={onNext} />
    </section>
  );
}

/** What one presses next is in sight, however long the task. */
const BAR = "sticky bottom-0 -mx-1 flex flex-wrap items-center gap-x-4 gap-y-2 border-t bg-inherit px-1 py-3";

type AnsweringProps = Omit<Props, "why"> & { task: PracticeTask };

function Answering({ ask, task, kind, progress, onSkip, onNext }: AnsweringProps) {
  const queries = useQueryClient();
  const [said, setSaid] = useState<Said>({});
  const [judged, setJudged] = useState<PracticeJudged>();
  const [after, setAfter] = useState<PracticeProgress>();
  const [problems, setProblems] = useState<ReadonlyMap<string, string>>(new Map());
  const [began] = useState(() => performance.now());
  const [key] = useState(() => crypto.randomUUID());
  const busy = useRef(false);
  const next = useRef<HTMLButtonElement>(null);
  const tag = task.own ? task.things.find((x) => x.kind === "label")?.name : undefined;
  useEffect(() => {
    if (judged) next.current?.focus({ preventScroll: true });
  }, [judged]);

  const answer = async (e: FormEvent) => {
    e.preventDefault();
    if (busy.current || judged) return;
    const answers = { ...said };
    // an order that was left as it lies is an answer too
    for (const q of task.questions)
      if (q.asks.shape === "order" && !(q.id in answers)) answers[q.id] = q.asks.options.map((o) => o.id);
    const body = { ...ask, answers, version: task.version };
    busy.current = true;
    try {
      if (progress) {
        const took_s = Math.min((performance.now() - began) / 1000, 86_400);
        const kept = await keep(progress.id, { ...body, key, took_s });
        setAfter(kept.progress);
        setJudged(kept.judged);
        touched(queries, "practice");
      } else setJudged(await judge(body));
      setProblems(new Map());
    } catch (wrong) {
      setProblems(fieldsOf(wrong, wordsOf(wrong, "It could not be judged. Try again.")));
    } finally {
      busy.current = false;
    }
  };
  return (
    <>
      <p className="mt-2 max-w-prose text-lead">{task.words}</p>
      <div className="mt-4 flex flex-wrap items-start gap-4">
        {task.things.map((thing) => (
          <ThingDrawn key={thing.name} thing={thing} />
        ))}
      </div>
      <form
        className="mt-5 max-w-xl space-y-4 border bg-sheet px-5 pt-4"
        onSubmit={(e) => void answer(e)}
        noValidate
      >
        {task.questions.map((q) => (
          <QuestionField
            key={q.id}
            question={q}
            said={said[q.id]}
            problem={problems.get(q.id)}
            came={judged?.came.find((c) => c.question === q.id)}
            onSay={(value) => {
              const { [q.id]: _, ...rest } = said;
              setSaid(value === undefined ? rest : { ...rest, [q.id]: value });
            }}
          />
        ))}
        {judged && <div className="h-px" />}
        {problems.has("") && (
          <p role="alert" className="text-alert">
            {problems.get("")}
          </p>
        )}
        {!judged && (
          <p className={BAR}>
            <button type="submit" className="primary min-h-9">
              Answer
            </button>
            <button type="button" className="control min-h-9" onClick={onSkip}>
              Another one
            </button>
          </p>
        )}
      </form>
      {judged && (
        <OutcomePart judged={judged} kind={kind} today={after} tag={tag} bar={BAR}>
          <button ref={next} type="button" className="primary min-h-9" onClick={() => onNext(after)}>
            Next
          </button>
        </OutcomePart>
      )}
    </>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { PracticeAsk, PracticeKind, PracticeProgress } from "@/api/types";
import { Failed } from "@/parts/Failed";
import { StageWaiting } from "@/parts/StageWaiting";
import { useTitle } from "@/parts/useTitle";
import { anySeed, useAddress } from "@/practice/address";
import { kindsQuery, peopleQuery, progressQuery } from "@/practice/queries";
import { SheetScreen } from "@/practice/SheetScreen";
import { SkillStack } from "@/practice/SkillStack";
import { TaskPart } from "@/practice/TaskPart";
import { WhoPart } from "@/practice/WhoPart";

/** One task at a time, at a bench that cannot burn. */
export function PracticeScreen() {
  useTitle("Practice");
  const { at } = useAddress();
  const kinds = useQuery(kindsQuery);
  const people = useQuery(peopleQuery);
  const who = people.data?.find((p) => p.id === at.who);
  const progress = useQuery({ ...progressQuery(who?.id ?? 0), enabled: who !== undefined });
  // what is here stays, also while a server is gone: an answer may be half typed
  const error = [kinds, people, progress].find((q) => !q.data && q.error)?.error;
  const again = () => {
    void kinds.refetch();
    void people.refetch();
    if (who) void progress.refetch();
  };
  if (error) return <Failed error={error} onRetry={again} className="px-6 py-10" />;
  if (!kinds.data || !people.data || (who && !progress.data))
    return <StageWaiting heading="Practice" words="Laying out a task…" />;
  if (at.sheet) return <SheetScreen kinds={kinds.data} />;
  const how = who ? progress.data : undefined;
  return (
    <main className="mx-auto w-full max-w-6xl flex-1 px-4 py-5 md:px-6">
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-2">
        <h1 className="text-title font-semibold tracking-tight">Practice</h1>
        <WhoPart people={people.data} progress={how} />
      </div>
      <div className="mt-4 grid grid-cols-1 gap-x-10 gap-y-8 lg:grid-cols-[minmax(0,1fr)_15rem]">
        <Tasks key={`${who?.id} ${how?.course} ${how?.anew}`} kinds={kinds.data} progress={how} />
        <SkillStack kinds={kinds.data} progress={how} />
      </div>
    </main>
  );
}

type TasksProps = { kinds: PracticeKind[]; progress: PracticeProgress | undefined };

/** The task that is asked for in the address, else what comes next; for nobody one kind after the other. */
function Tasks({ kinds, progress }: TasksProps) {
  const { at, to } = useAddress();
  const [seed, reseed] = useState(anySeed);
  const [turn, setTurn] = useState(0);
  // what is asked stays until one goes on: an answer changes what comes next
  const [next, goOn] = useState(progress?.next_up);
  const [skipped, skip] = useState(false);
  const kind = kinds.find((k) => k.id === at.kind);
  const ask: PracticeAsk = kind
    ? {
        kind: kind.id,
        level: at.level ?? "first_day",
        seed: at.seed ?? seed,
        own: Boolean(at.own && kind.of_own),
        house_rules: null,
      }
    : {
        kind: next?.kind ?? kinds[turn % kinds.length]?.id ?? "label",
        level: next?.level ?? "first_day",
        seed: next && !skipped ? next.seed : seed,
        own: false,
        house_rules: next?.house_rules ?? null,
      };
  const other = () => {
    reseed(anySeed());
    // the seed of the address was that of the task before
    if (kind) to({ who: at.who, kind: kind.id, level: at.level, own: at.own });
  };
  return (
    <TaskPart
      key={JSON.stringify(ask)}
      ask={ask}
      kind={kind ?? kinds.find((k) => k.id === ask.kind)}
      progress={progress}
      why={kind ? undefined : next?.why}
      onSkip={() => {
        other();
        skip(true);
      }}
      onNext={(after) => {
        other();
        skip(false);
        goOn(after?.next_up);
        setTurn(turn + 1);
      }}
    />
  );
}

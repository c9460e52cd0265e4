import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useDeferredValue, useState } from "react";
import { ApiProblem, wordsOf } from "@/api/problem";
import type { Answers } from "@/api/types";
import { touched } from "@/app/act";
import { modelKindsQuery } from "@/app/queries";
import { HaveFields } from "@/gear/HaveFields";
import { tellChange } from "@/gear/queries";
import { NONE_HERE } from "@/gear/runsOn";
import {
  type Asked,
  keepAnswers,
  keepHave,
  keptAnswers,
  keptHave,
  NOTHING_YET,
  saysEnough,
} from "@/newmodel/answers";
import { Forming } from "@/newmodel/Forming";
import { GoalsQuestion } from "@/newmodel/GoalsQuestion";
import { LimitsQuestion } from "@/newmodel/LimitsQuestion";
import { NowQuestion } from "@/newmodel/NowQuestion";
import { Question } from "@/newmodel/Question";
import { addDescribed, describedQuery } from "@/newmodel/queries";
import { UsageQuestion } from "@/newmodel/UsageQuestion";
import { WhatQuestion } from "@/newmodel/WhatQuestion";
import { SaveButton, useReds } from "@/parts/reds";
import { StageWaiting } from "@/parts/StageWaiting";
import { useTitle } from "@/parts/useTitle";

/** A model by a few questions on one page; what follows from the answers forms beside them. */
export function NewModelScreen() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [answers, setAnswers] = useState<Answers>(keptAnswers);
  const [refused, setRefused] = useState<{ of: Answers; problem: ApiProblem }>();
  const [failed, setFailed] = useState<string>();
  const [have, setHave] = useState(keptHave);
  const [adding, setAdding] = useState(false);
  const [reds, withReds] = useReds();
  useTitle("A new model");
  const { isPending: asking } = useQuery(modelKindsQuery);
  const settled = useDeferredValue(answers);
  const described = useQuery({ ...describedQuery(settled), enabled: saysEnough(settled) });
  if (asking) return <StageWaiting heading="A new model" words="Fetching the questions…" />;
  const problem =
    refused?.of === answers
      ? refused.problem
      : described.error instanceof ApiProblem
        ? described.error
        : undefined;
  const set = (part: Partial<Answers>) => {
    const next = { ...answers, ...part };
    keepAnswers(next);
    setAnswers(next);
    setFailed(undefined);
  };
  // asked of what stands there now, not of what was just mended
  const current = settled === answers && !described.isPlaceholderData;
  const questions = (current && saysEnough(answers) && described.data?.questions) || [];
  const back = (path: string) => {
    const q = questions.find((x) => x.field === path);
    return q && { ...q, onSure: () => set({ sure: [...answers.sure, path] }) };
  };
  const asked: Asked = { answers, problems: problem?.fields ?? new Map(), asked: back, set };
  const add = async () => {
    setAdding(true);
    try {
      const kept = await addDescribed(answers, have);
      keepAnswers(undefined);
      keepHave(undefined);
      tellChange(queries, kept.change);
      touched(queries, "gear", "life");
      void navigate({ to: "/size/$model", params: { model: kept.slug }, search: { pick: kept.pick } });
    } catch (wrong) {
      if (wrong instanceof ApiProblem && wrong.fields.size > 0) setRefused({ of: answers, problem: wrong });
      setFailed(wordsOf(wrong, "It was not added."));
      setAdding(false);
    }
  };
  return (
    <main
      className="mx-auto grid w-full max-w-6xl flex-1 content-start gap-x-12 px-4 py-5
      md:grid-cols-[minmax(0,1fr)_24rem] md:px-6"
    >
      <form
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          void add();
        }}
      >
        <h1 className="text-title font-semibold tracking-tight">A new model</h1>
        <p className="mt-0.5 max-w-prose text-ink-faint">
          Answer what you know. Everything but what it is, its mass and its cells can be left out: it is then
          assumed in sight, and asked for where it matters.
        </p>
        {withReds(
          <>
            <WhatQuestion
              {...asked}
              likely={
                saysEnough(settled) && settled.kind === answers.kind ? described.data?.model_class : undefined
              }
            />
            <NowQuestion {...asked} />
            <UsageQuestion {...asked} />
            <GoalsQuestion {...asked} />
            <LimitsQuestion {...asked} />
            {answers.now.pack === null && (
              <Question
                title="Have you got that pack here?"
                why="Then it is put into your box with a tag, and Match, Charge, Run and Keep have
                  something to show."
              >
                <HaveFields
                  have={have}
                  onChange={(next) => {
                    keepHave(next);
                    setHave(next);
                  }}
                  two={answers.now.joined !== ""}
                />
              </Question>
            )}
          </>,
        )}
        <div className="sticky bottom-0 flex flex-wrap items-center gap-x-4 gap-y-1 border-t bg-ground py-3">
          <SaveButton reds={reds} look="primary min-h-9 px-4" busy={adding}>
            {adding ? "Adding…" : "Add it, and size its pack"}
          </SaveButton>
          {answers !== NOTHING_YET && (
            <button
              type="button"
              className="action min-h-6"
              onClick={() => {
                keepAnswers(undefined);
                setAnswers(NOTHING_YET);
                keepHave(undefined);
                setHave(NONE_HERE);
              }}
            >
              Start again
            </button>
          )}
          {failed && (
            <p role="alert" className="text-plain text-alert">
              {failed}
            </p>
          )}
        </div>
      </form>
      <Forming
        described={saysEnough(settled) ? described.data : undefined}
        problem={problem?.message}
        busy={described.isFetching || settled !== answers}
      />
    </main>
  );
}

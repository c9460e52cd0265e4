import { useQuery } from "@tanstack/react-query";
import type { Likely } from "@/api/types";
import { modelKindsQuery } from "@/app/queries";
import type { Asked } from "@/newmodel/answers";
import { ClassOf } from "@/newmodel/ClassOf";
import { KindPicture } from "@/newmodel/KindPicture";
import { Question } from "@/newmodel/Question";
import { NumberField } from "@/parts/NumberField";
import { TextField } from "@/parts/TextField";

/** What it is, its name, its mass without the pack. */
export function WhatQuestion({
  answers,
  problems,
  asked,
  set,
  likely,
}: Asked & { likely: Likely | undefined }) {
  const { data: kinds = [] } = useQuery(modelKindsQuery);
  const kind = kinds.find((k) => k.id === answers.kind);
  return (
    <Question title="What is it?" why="How it moves decides how its draw follows mass and volts.">
      <div
        role="radiogroup"
        aria-label="What it is"
        className="grid grid-cols-[repeat(auto-fill,minmax(9.5rem,1fr))] gap-1.5"
      >
        {kinds.map((k) => (
          <label
            key={k.id}
            className={`chosen-label flex cursor-pointer items-center gap-2.5 border px-2 py-1.5
              ${k.id === answers.kind ? "chosen" : "border-rule-strong hover:border-ink-soft"}`}
          >
            <input
              type="radio"
              name="kind"
              className="sr-only"
              checked={k.id === answers.kind}
              onChange={() => set({ kind: k.id, model_class: null })}
            />
            <KindPicture kind={k.id} />
            <span className="leading-4">
              {k.name}
              <span className="block text-fine font-normal leading-3.25 text-ink-faint">{k.example}</span>
            </span>
          </label>
        ))}
      </div>
      {problems.get("kind") && (
        <p role="alert" className="mt-1 text-small text-alert">
          {problems.get("kind")}
        </p>
      )}
      {kind && (
        <ClassOf
          classes={kind.classes}
          chosen={answers.model_class}
          likely={likely && kind.classes.some((c) => c.id === likely.id) ? likely : undefined}
          problem={problems.get("model_class")}
          onChange={(model_class) => set({ model_class })}
        />
      )}
      <div className="mt-2 grid items-start gap-x-10 sm:grid-cols-2">
        <TextField label="Its name" value={answers.name} onChange={(name) => set({ name })} />
        <div className="sm:pt-1">
          <NumberField
            label="Mass without the pack"
            kind="mass"
            step={10}
            optional
            placeholder="—"
            value={answers.mass_g}
            problem={problems.get("mass_g")}
            asked={asked("mass_g")}
            onChange={(mass_g) => set({ mass_g })}
          />
          {kind && kind.motors > 1 && (
            <NumberField
              label="Rotors"
              kind="count"
              step={1}
              optional
              placeholder={`${kind.motors}`}
              value={answers.rotors}
              problem={problems.get("rotors")}
              onChange={(rotors) => set({ rotors })}
            />
          )}
        </div>
      </div>
    </Question>
  );
}

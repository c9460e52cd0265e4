import { useQuery } from "@tanstack/react-query";
import type { Answers } from "@/api/types";
import { CUTOFFS, MOTOR_KINDS, RATINGS } from "@/app/choices";
import { choicesQuery } from "@/app/queries";
import type { Asked } from "@/newmodel/answers";
import { NONE, Question } from "@/newmodel/Question";
import { fieldsOf } from "@/parts/fieldsOf";

type Limits = Answers["limits"];

/** What electronics and room may see. All of it can be left out. */
export function LimitsQuestion({ answers, problems, asked, set }: Asked) {
  const { data: choices } = useQuery(choicesQuery);
  const { limits } = answers;
  const put = (part: Partial<Limits>) => set({ limits: { ...limits, ...part } });
  const { number, choice } = fieldsOf({
    asked,
    values: limits,
    at: "limits.",
    problems,
    put: (_, part) => put(part),
  });
  return (
    <Question
      title="What may it see?"
      why="From the controller’s sheet. What is left out suits the pack of now, and refuses nothing."
    >
      <div className="grid gap-x-10 sm:grid-cols-2">
        {number("cells_min", "Rated from, LiPo cells", "cells", 1, NONE)}
        {number("cells_max", "Rated to, LiPo cells", "cells", 1, NONE)}
        {number("controller_a", "Controller", "current", 5, NONE)}
        {number("controllers", "How many controllers", "count", 1, NONE)}
        {choice("cutoff", "Low-voltage cut-off", [{ id: "", name: "I don’t know", note: "" }, ...CUTOFFS], {
          part: (id) => ({ cutoff: (id || null) as Limits["cutoff"] }),
        })}
        {choice("ratings", "The amps are for", RATINGS)}
      </div>
      <details className="mt-1">
        <summary className="min-h-6 text-small text-ink-faint">Plug, leads, room, motor</summary>
        <div className="grid gap-x-10 sm:grid-cols-2">
          {choice("plug", "Plug", [{ id: "", name: "assumed", note: "" }, ...(choices?.plugs ?? [])], {
            part: (id) => ({ plug: id || null }),
          })}
          {number("lead_awg", "Leads", "gauge", 1, NONE)}
          {number("length_mm", "Room, length", "length", 1, NONE)}
          {number("width_mm", "Room, width", "length", 1, NONE)}
          {number("height_mm", "Room, height", "length", 1, NONE)}
          {number("max_v", "Highest volts, if not in cells", "voltage", 0.1, NONE)}
          {choice("brushed", "Motor is", MOTOR_KINDS, { part: (id) => ({ brushed: id === "true" }) })}
        </div>
      </details>
    </Question>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { ApiProblem, wordsOf } from "@/api/problem";
import type { Estimate, Job } from "@/api/types";
import { modelKindsQuery } from "@/app/queries";
import type { JobEditing } from "@/app/useJob";
import { rounded } from "@/format/quantity";
import { PropulsionFields } from "@/gear/PropulsionFields";
import { ChoiceField } from "@/parts/ChoiceField";
import { fieldsOf } from "@/parts/fieldsOf";
import { Sheet } from "@/parts/Sheet";
import { Evidence } from "@/stages/size/estimate/Evidence";
import { OtherCells } from "@/stages/size/estimate/OtherCells";
import { estimateQuery } from "@/stages/size/estimate/queries";

type Props = { model: string; store: JobEditing; onClose: () => void };

const BETTER: readonly Job["draw"]["source"][] = ["measured", "log"];

/** What a model draws where nobody has a meter, by all that is known of it; and the same on other cells. */
export function EstimateSheet({ model, store, onClose }: Props) {
  const { job } = store;
  const settled = useDeferredValue(job);
  const { data: kinds = [] } = useQuery(modelKindsQuery);
  const { data: found, error } = useQuery(estimateQuery(model, settled));
  const problems = error instanceof ApiProblem ? error.fields : new Map<string, string>();
  const kind = kinds.find((k) => k.id === (job.propulsion.kind || found?.kind));
  const put = (words: string, part: Partial<Job["propulsion"]>) =>
    store.change(words, (now) => ({ ...now, propulsion: { ...now.propulsion, ...part } }));
  const motor = fieldsOf({
    values: job.electronics,
    at: "electronics.",
    problems,
    put: (words, part: Partial<Job["electronics"]>) =>
      store.change(words, (now) => ({ ...now, electronics: { ...now.electronics, ...part } })),
  });
  return (
    <Sheet open onClose={onClose} title="What it draws, without a meter" wide>
      <div className="px-5 py-4">
        <div className="mb-1 grid gap-x-10 sm:grid-cols-2">
          <ChoiceField
            label="It is"
            value={kind?.id ?? ""}
            choices={kinds.map((k) => ({ id: k.id, name: k.name, note: "" }))}
            onChange={(id) => put("what it is", { kind: id, model_class: "" })}
          />
          <ChoiceField
            label="Mostly flown or driven as"
            value={job.propulsion.model_class}
            choices={[
              { id: "", name: "guessed by its figures", note: "" },
              ...(kind?.classes ?? []).map((c) => ({ ...c, note: "" })),
            ]}
            onChange={(id) => put("its class", { kind: kind?.id ?? "", model_class: id })}
          />
        </div>
        <PropulsionFields
          kind={kind?.id ?? ""}
          values={job.propulsion}
          problems={problems}
          put={put}
          kv={motor.number("motor_kv", "Motor kV", "kv", 10, { empty: "—" })}
        />
        {error && problems.size === 0 && (
          <p role="alert" className="mt-4 text-alert">
            {wordsOf(error, "It could not be estimated.")}
          </p>
        )}
        {found?.none && <p className="mt-4 text-ink-faint">{found.none}</p>}
        {!found && !error && <p className="mt-4 text-ink-faint">Estimating…</p>}
        {found?.average && (
          <Found found={found} source={job.draw.source} onUse={(draw) => use(store, draw, onClose)} />
        )}
        {found && found.cells.length > 0 && <OtherCells rows={found.cells} geared={!found.cells[0]?.pull} />}
        <p className="mt-4 max-w-prose text-small text-ink-faint">
          Typical coefficients, in wide ranges: a meter or three logged runs are worth more than all of this.
          Full-stick amps are for seconds; feel motor and controller after the first run on another propeller
          or gearing, and go by their makers’ sheets.
        </p>
      </div>
    </Sheet>
  );
}

function use(store: JobEditing, draw: Partial<Job["draw"]>, done: () => void) {
  store.change("the estimated draw", (job) => ({
    ...job,
    draw: { ...job.draw, phases: null, peak_voltage_v: null, ...draw },
    assumed: [...new Set([...job.assumed, "draw.average_a", "draw.peak_a"])],
  }));
  done();
}

type FoundProps = {
  found: Estimate;
  source: Job["draw"]["source"];
  onUse: (draw: Partial<Job["draw"]>) => void;
};

function Found({ found, source, onUse }: FoundProps) {
  const { average, peak, draw, logged, measured } = found;
  const held = [logged, measured].filter((x) => x !== null);
  return (
    <>
      <div className="mt-5 grid gap-x-10 gap-y-5 border-t pt-4 sm:grid-cols-2">
        {average && <Evidence title="Average" current={average} measured={logged ?? measured} />}
        {peak && <Evidence title="Peak, full stick" current={peak} measured={null} />}
      </div>
      {held.map((x) => (
        <p key={x.sentence} className="mt-2 font-medium">
          {x.sentence}
        </p>
      ))}
      {found.off_by !== null && (
        <p className="mt-1 text-small text-ink-soft">
          The estimate above starts from its runs: {rounded(found.off_by, 2)} times what these figures alone
          say.
        </p>
      )}
      {draw && !BETTER.includes(source) && (
        <button type="button" className="primary mt-3" onClick={() => onUse(draw as Partial<Job["draw"]>)}>
          Use it as its draw
        </button>
      )}
    </>
  );
}

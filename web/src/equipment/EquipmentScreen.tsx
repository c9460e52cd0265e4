import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useDeferredValue, useState } from "react";
import { ApiProblem, wordsOf } from "@/api/problem";
import type { EquipmentAnswers, EquipmentKind, Served } from "@/api/types";
import { touched } from "@/app/act";
import { choicesQuery } from "@/app/queries";
import { addServed, equipmentKindsQuery, servedQuery } from "@/equipment/queries";
import { EquipmentFields } from "@/gear/EquipmentFields";
import { tellChange } from "@/gear/queries";
import { fieldsOf } from "@/parts/fieldsOf";
import { SaveButton, useReds } from "@/parts/reds";
import { StageWaiting } from "@/parts/StageWaiting";
import { TextField } from "@/parts/TextField";
import { useTitle } from "@/parts/useTitle";

/** As usual for a kind: every figure is assumed until somebody says otherwise. */
function usual(kind: EquipmentKind, before: EquipmentAnswers | undefined): EquipmentAnswers {
  return {
    name: before?.name ?? "",
    equipment: kind.equipment,
    plug: before?.plug ?? null,
    chemistries: kind.chemistries,
    mass_g: before?.mass_g ?? null,
    length_mm: before?.length_mm ?? null,
    width_mm: before?.width_mm ?? null,
    height_mm: before?.height_mm ?? null,
    assumed: kind.assumed,
  };
}

/** What a pack serves that is no model: a few questions, and which packs at hand would do. */
export function EquipmentScreen() {
  useTitle("A pack for something else");
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { data: kinds } = useQuery(equipmentKindsQuery);
  const { data: choices } = useQuery(choicesQuery);
  const [told, setTold] = useState<EquipmentAnswers>();
  const [failed, setFailed] = useState<string>();
  const [adding, setAdding] = useState(false);
  const [reds, withReds] = useReds();
  const settled = useDeferredValue(told);
  const served = useQuery({
    ...servedQuery(settled as EquipmentAnswers),
    enabled: settled !== undefined,
  });
  if (!kinds) return <StageWaiting heading="A pack for something else" words="Fetching the questions…" />;
  const problems = served.error instanceof ApiProblem ? served.error.fields : new Map<string, string>();
  const give = (part: Partial<EquipmentAnswers>) => {
    setFailed(undefined);
    if (told) setTold({ ...told, ...part });
  };
  const put = (_: string, part: Partial<EquipmentAnswers["equipment"]>) => {
    if (!told) return;
    const given = Object.keys(part).map((name) => `equipment.${name}`);
    give({
      equipment: { ...told.equipment, ...part },
      assumed: told.assumed.filter((f) => !given.includes(f)),
    });
  };
  const add = async () => {
    if (!told || !served.data || served.error) return;
    setAdding(true);
    try {
      // what was typed last may still be on its way
      const kept = await addServed(await queries.fetchQuery(servedQuery(told)));
      tellChange(queries, kept.change);
      touched(queries, "gear", "life");
      void navigate({ to: "/size/$model", params: { model: kept.row.slug } });
    } catch (wrong) {
      setFailed(wordsOf(wrong, "It was not added."));
      setAdding(false);
    }
  };
  const confirm = (path: string) =>
    told?.assumed.includes(path)
      ? () => give({ assumed: told.assumed.filter((f) => f !== path) })
      : undefined;
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
        <h1 className="text-title font-semibold tracking-tight">A pack for something else</h1>
        <p className="mt-0.5 max-w-prose text-ink-faint">
          A radio, a receiver with its servos, goggles, a lamp, a tool at the bench: small loads for hours,
          where the volts count and not the C. Choose what it is; the usual figures stand there until you say
          yours.
        </p>
        <fieldset className="mt-5 border-t pt-3">
          <legend className="float-left w-full text-lead font-semibold">What is it?</legend>
          <div
            role="radiogroup"
            aria-label="What it is"
            className="clear-both grid grid-cols-[repeat(auto-fill,minmax(11rem,1fr))] gap-1.5 pt-2"
          >
            {kinds.map((k) => (
              <label
                key={k.id}
                className={`chosen-label flex cursor-pointer items-center border px-2 py-1.5
                  ${k.id === told?.equipment.kind ? "chosen" : "border-rule-strong hover:border-ink-soft"}`}
              >
                <input
                  type="radio"
                  name="kind"
                  className="sr-only"
                  checked={k.id === told?.equipment.kind}
                  onChange={() => setTold(usual(k, told))}
                />
                {k.name}
              </label>
            ))}
          </div>
        </fieldset>
        {told &&
          withReds(
            <>
              <fieldset className="mt-5 border-t pt-3">
                <legend className="float-left w-full text-lead font-semibold">What does it take?</legend>
                <div className="clear-both grid items-start gap-x-10 pt-1 sm:grid-cols-2">
                  <EquipmentFields values={told.equipment} problems={problems} put={put} assumed={confirm} />
                </div>
              </fieldset>
              <Rest told={told} give={give} problems={problems} plugs={choices?.plugs ?? []} />
              <div className="sticky bottom-0 flex flex-wrap items-center gap-x-4 border-t bg-ground py-3">
                <SaveButton
                  reds={reds}
                  look="primary min-h-9 px-4"
                  busy={adding || !served.data || served.error !== null}
                >
                  {adding ? "Adding…" : "Add it, and size its pack"}
                </SaveButton>
                {failed && (
                  <p role="alert" className="text-plain text-alert">
                    {failed}
                  </p>
                )}
              </div>
            </>,
          )}
      </form>
      <Follows served={told ? served.data : undefined} problem={served.error} asked={told !== undefined} />
    </main>
  );
}

const NONE = { empty: "—" };

type RestProps = {
  told: EquipmentAnswers;
  give: (part: Partial<EquipmentAnswers>) => void;
  problems: ReadonlyMap<string, string>;
  plugs: readonly { id: string; name: string; note: string }[];
};

function Rest({ told, give, problems, plugs }: RestProps) {
  const { number, choice } = fieldsOf({ values: told, at: "", problems, put: (_, part) => give(part) });
  return (
    <fieldset className="mt-5 border-t pt-3">
      <legend className="float-left w-full text-lead font-semibold">Its name, plug and room</legend>
      <div className="clear-both grid items-start gap-x-10 pt-1 sm:grid-cols-2">
        <TextField label="Its name" value={told.name} onChange={(name) => give({ name })} />
        <div className="sm:pt-1">
          {choice("plug", "Plug", [{ id: "", name: "assumed", note: "" }, ...plugs], {
            part: (id) => ({ plug: id || null }),
          })}
          {number("mass_g", "Pack, at most", "mass", 5, NONE)}
        </div>
        {number("length_mm", "Room, length", "length", 1, NONE)}
        {number("width_mm", "Room, width", "length", 1, NONE)}
        {number("height_mm", "Room, height", "length", 1, NONE)}
      </div>
    </fieldset>
  );
}

function Follows({
  served,
  problem,
  asked,
}: {
  served: Served | undefined;
  problem: Error | null;
  asked: boolean;
}) {
  return (
    <aside
      aria-label="What follows from it"
      className="mt-6 border-t pt-4 md:sticky md:top-4 md:mt-10 md:self-start md:border-l md:border-t-0
        md:pl-8 md:pt-0"
    >
      {problem ? (
        <p className="text-ink-faint">{wordsOf(problem, "It could not be worked out.")}</p>
      ) : served ? (
        <>
          <h2 className="text-lead font-semibold leading-5">{served.headline}</h2>
          <p className="mt-2 text-plain text-ink-soft">{served.lasts}</p>
          <p className="mt-2 text-plain text-ink-soft">{served.window}</p>
          <p className="mt-2 text-small text-ink-faint">
            The maker’s sheet of the receiver, radio or tool goes before what is usual. What flies is checked
            with a meter before each start.
          </p>
        </>
      ) : (
        <p className="text-ink-faint">{asked ? "Working it out…" : "Nothing to say yet."}</p>
      )}
    </aside>
  );
}

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useId, useState } from "react";
import { fieldsOf, wordsOf } from "@/api/problem";
import type { PracticePerson, PracticeProgress } from "@/api/types";
import { touched, useAct } from "@/app/act";
import { ChoiceField } from "@/parts/ChoiceField";
import { Folded } from "@/parts/Folded";
import { useAddress } from "@/practice/address";
import { todayWords } from "@/practice/OutcomePart";
import {
  addPerson,
  beginAnew,
  bringAnswersBack,
  bringPersonBack,
  coursesQuery,
  follow,
  removePerson,
} from "@/practice/queries";

type Props = { people: PracticePerson[]; progress: PracticeProgress | undefined };

const named = (id: number | string, name: string) => ({ id: String(id), name, note: "" });
const NEW = "new";

/** Who practises: a name, no account. */
export function WhoPart({ people, progress }: Props) {
  const { at, to } = useAddress();
  const [adding, add] = useState(false);
  return (
    <div className="flex min-w-0 flex-1 flex-wrap items-baseline gap-x-5 gap-y-1">
      {people.length > 0 && !adding && (
        <label className="flex min-w-0 items-baseline gap-2 text-plain">
          Who practises
          <select
            className="field min-h-7 min-w-0 cursor-pointer font-semibold"
            value={progress ? String(progress.id) : "0"}
            onChange={({ target }) => (target.value === NEW ? add(true) : to({ who: Number(target.value) }))}
          >
            {people.map((p) => (
              <option key={p.id} value={p.id}>
                {p.due > 0 ? `${p.name} (${p.due} due)` : p.name}
              </option>
            ))}
            <option value="0">nobody</option>
            <option value={NEW}>somebody new…</option>
          </select>
        </label>
      )}
      {(people.length === 0 || adding) && (
        <NewPerson
          onAdded={(id) => {
            add(false);
            to({ who: id });
          }}
          onLeave={people.length > 0 ? () => add(false) : undefined}
        />
      )}
      {progress && !adding && (
        <Person key={progress.id} progress={progress} onGone={() => to({ ...at, who: 0 })} />
      )}
    </div>
  );
}

type NewProps = { onAdded: (id: number) => void; onLeave: (() => void) | undefined };

function NewPerson({ onAdded, onLeave }: NewProps) {
  const queries = useQueryClient();
  const id = useId();
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string>();
  const save = async (e: FormEvent) => {
    e.preventDefault();
    try {
      const made = await addPerson(name);
      touched(queries, "practice");
      onAdded(made.id);
    } catch (wrong) {
      const told = fieldsOf(wrong, wordsOf(wrong, "It could not be kept."));
      setProblem(told.get("name") ?? told.get(""));
    }
  };
  return (
    <form className="flex flex-wrap items-baseline gap-x-3 gap-y-1" onSubmit={(e) => void save(e)} noValidate>
      <label htmlFor={id} className="label text-plain">
        To be remembered, your name
      </label>
      <input
        id={id}
        className="field min-h-7 min-w-24 flex-1 sm:max-w-44"
        value={name}
        maxLength={40}
        autoComplete="off"
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem ? `${id}-problem` : undefined}
        onChange={(e) => setName(e.target.value)}
      />
      <button type="submit" className="control">
        Remember me
      </button>
      {onLeave && (
        <button type="button" className="action" onClick={onLeave}>
          Not now
        </button>
      )}
      {problem && (
        <p id={`${id}-problem`} role="alert" className="basis-full text-small text-alert">
          {problem}
        </p>
      )}
    </form>
  );
}

/** What one does with somebody's memory: a course, begin anew, take away. */
function Person({ progress, onGone }: { progress: PracticeProgress; onGone: () => void }) {
  const act = useAct();
  const courses = useQuery(coursesQuery);
  const { id, name } = progress;
  const back = { touches: ["practice" as const], fails: "It could not be brought back." };
  return (
    <>
      <span className="text-small text-ink-faint">{todayWords(progress)}</span>
      <Folded name="Course, begin anew" className="text-small">
        <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1 py-1">
          <ChoiceField
            label="Course"
            value={String(progress.course ?? 0)}
            choices={[named(0, "all kinds"), ...(courses.data ?? []).map((c) => named(c.id, c.name))]}
            onChange={(course) =>
              void act({
                act: () => follow(id, Number(course) || null),
                touches: ["practice"],
                fails: "The course could not be followed.",
                says: () => "The course is followed.",
                undo: () => ({ ...back, act: () => follow(id, progress.course) }),
              })
            }
          />
          <button
            type="button"
            className="action"
            disabled={progress.answered === 0}
            onClick={() =>
              void act({
                act: () => beginAnew(id),
                touches: ["practice"],
                fails: "It could not be begun anew.",
                says: () => `${name} begins anew; ${progress.answered} answers are withdrawn.`,
                undo: () => ({ ...back, act: () => bringAnswersBack(id) }),
              })
            }
          >
            Begin anew
          </button>
          <button
            type="button"
            className="action"
            onClick={() =>
              void act({
                act: () => removePerson(id),
                touches: ["practice"],
                fails: "It could not be done.",
                says: () => `${name} was taken away.`,
                undo: () => ({ ...back, act: () => bringPersonBack(id) }),
              }).then((done) => done && onGone())
            }
          >
            Take {name} away
          </button>
        </div>
      </Folded>
    </>
  );
}

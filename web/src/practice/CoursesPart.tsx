import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { fieldsOf, wordsOf } from "@/api/problem";
import type { PracticeCourse, PracticeStep } from "@/api/types";
import { touched, useAct } from "@/app/act";
import { TextField } from "@/parts/TextField";
import { bringCourseBack, coursesQuery, removeCourse, writeCourse } from "@/practice/queries";

type Props = { steps: PracticeStep[]; rules: string | null; onOpen: (course: PracticeCourse) => void };

/** Courses of one's own: what is ticked, kept under a name, for people to follow. */
export function CoursesPart({ steps, rules, onOpen }: Props) {
  const act = useAct();
  const queries = useQueryClient();
  const { data: courses = [] } = useQuery(coursesQuery);
  const [name, setName] = useState("");
  const [problems, setProblems] = useState<ReadonlyMap<string, string>>(new Map());
  const save = async (e: FormEvent) => {
    e.preventDefault();
    const same = courses.find((c) => c.name.toLowerCase() === name.trim().toLowerCase());
    try {
      await writeCourse(same?.id, { name, steps, house_rules: rules });
      touched(queries, "practice", "rules");
      setName("");
      setProblems(new Map());
    } catch (wrong) {
      setProblems(fieldsOf(wrong, wordsOf(wrong, "It could not be kept.")));
    }
  };
  const remove = (c: PracticeCourse) =>
    act({
      act: () => removeCourse(c.id),
      touches: ["practice", "rules"],
      fails: "It could not be deleted.",
      says: () => `The course ${c.name} is deleted.`,
      undo: () => ({
        act: () => bringCourseBack(c.id),
        touches: ["practice", "rules"],
        fails: "It could not be brought back.",
      }),
    });
  return (
    <section aria-label="Courses" className="pt-4">
      <h2 className="heading">Courses</h2>
      {courses.length === 0 && (
        <p className="text-small text-ink-faint">
          None yet. Keep what is ticked as a course, and whoever follows it gets these kinds in this order.
        </p>
      )}
      <ul className="divide-y">
        {courses.map((c) => (
          <li key={c.id} className="flex flex-wrap items-baseline gap-x-3 py-1">
            <button type="button" className="action" onClick={() => onOpen(c)}>
              {c.name}
            </button>
            <span className="flex-1 text-small text-ink-faint">
              {c.steps.length} step{c.steps.length === 1 ? "" : "s"}
              {c.followed_by.length > 0 && `, followed by ${c.followed_by.join(", ")}`}
            </span>
            <button
              type="button"
              className="action text-small"
              aria-label={`Delete the course ${c.name}`}
              onClick={() => void remove(c)}
            >
              Delete
            </button>
          </li>
        ))}
      </ul>
      <form className="mt-2 flex items-end gap-3" onSubmit={(e) => void save(e)} noValidate>
        <div className="flex-1">
          <TextField
            label="Keep what is ticked as a course"
            placeholder="Beginners’ evening"
            value={name}
            problem={problems.get("name") ?? problems.get("steps") ?? problems.get("")}
            onChange={setName}
          />
        </div>
        <button type="submit" className="control mb-1">
          Keep
        </button>
      </form>
    </section>
  );
}

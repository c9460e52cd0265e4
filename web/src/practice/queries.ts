import { queryOptions } from "@tanstack/react-query";
import { answered, client } from "@/api/client";
import type {
  PracticeAnswers,
  PracticeAsk,
  PracticeCourse,
  PracticeJudged,
  PracticeKept,
  PracticeKind,
  PracticePerson,
  PracticeProgress,
  PracticeSheet,
  PracticeSheetAsk,
  PracticeStep,
  PracticeTask,
} from "@/api/types";
import type { Part } from "@/app/reads";

/** An answer by question: a number, the id of a choice, or several ids in their order. */
export type Said = Record<string, number | string | string[]>;

const READS: { reads: Part[] } = { reads: ["practice"] };

export const kindsQuery = queryOptions({
  queryKey: ["practice-kinds"],
  queryFn: ({ signal }): Promise<PracticeKind[]> => answered(client.GET("/api/practice/kinds", { signal })),
  staleTime: Number.POSITIVE_INFINITY,
});

/** One task: the same for the same kind, level and seed, by the rules in force and the gear as it is. */
export const taskQuery = (ask: PracticeAsk) =>
  queryOptions({
    queryKey: ["practice-task", ask],
    meta: { reads: (ask.own ? ["rules", "gear", "life"] : ["rules"]) as Part[] },
    queryFn: ({ signal }): Promise<PracticeTask> =>
      answered(client.POST("/api/practice/task", { body: ask, signal })),
    // what one is answering stays as it was asked, while what it follows from does
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    retry: false,
  });

export const peopleQuery = queryOptions({
  queryKey: ["practice-people"],
  meta: READS,
  queryFn: ({ signal }): Promise<PracticePerson[]> =>
    answered(client.GET("/api/practice/people", { signal })),
});

const path = (person_id: number) => ({ params: { path: { person_id } } });

export const progressQuery = (person: number) =>
  queryOptions({
    queryKey: ["practice-progress", person],
    meta: READS,
    queryFn: ({ signal }): Promise<PracticeProgress> =>
      answered(client.GET("/api/practice/people/{person_id}", { ...path(person), signal })),
    retry: false,
  });

export const coursesQuery = queryOptions({
  queryKey: ["practice-courses"],
  meta: READS,
  queryFn: ({ signal }): Promise<PracticeCourse[]> =>
    answered(client.GET("/api/practice/courses", { signal })),
});

export const sheetQuery = (body: PracticeSheetAsk) =>
  queryOptions({
    queryKey: ["practice-sheet", body],
    meta: { reads: ["rules"] as Part[] },
    queryFn: ({ signal }): Promise<PracticeSheet> =>
      answered(client.POST("/api/practice/sheet", { body, signal })),
    retry: false,
  });

export const judge = (body: PracticeAnswers): Promise<PracticeJudged> =>
  answered(client.POST("/api/practice/answer", { body }));

export const keep = (
  person: number,
  body: PracticeAnswers & { key: string; took_s: number },
): Promise<PracticeKept> =>
  answered(client.POST("/api/practice/people/{person_id}/answers", { ...path(person), body }));

export const addPerson = (name: string): Promise<PracticeProgress> =>
  answered(client.POST("/api/practice/people", { body: { name } }));

export const removePerson = (person: number) =>
  answered(client.DELETE("/api/practice/people/{person_id}", path(person)));

export const bringPersonBack = (person: number) =>
  answered(client.POST("/api/practice/people/{person_id}/back", path(person)));

export const beginAnew = (person: number) =>
  answered(client.POST("/api/practice/people/{person_id}/anew", path(person)));

export const bringAnswersBack = (person: number) =>
  answered(client.POST("/api/practice/people/{person_id}/anew/back", path(person)));

export const follow = (person: number, course: number | null): Promise<PracticeProgress> =>
  answered(client.PUT("/api/practice/people/{person_id}", { ...path(person), body: { course } }));

type Course = { name: string; steps: PracticeStep[]; house_rules: string | null };

/** A course of one's own, new or changed. */
export const writeCourse = (id: number | undefined, body: Course): Promise<PracticeCourse> =>
  id === undefined
    ? answered(client.POST("/api/practice/courses", { body }))
    : answered(
        client.PUT("/api/practice/courses/{course_id}", { params: { path: { course_id: id } }, body }),
      );

export const removeCourse = (course_id: number) =>
  answered(client.DELETE("/api/practice/courses/{course_id}", { params: { path: { course_id } } }));

export const bringCourseBack = (course_id: number) =>
  answered(client.POST("/api/practice/courses/{course_id}/back", { params: { path: { course_id } } }));

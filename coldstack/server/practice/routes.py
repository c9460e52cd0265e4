"""Practice: tasks from a seed, judged by the rules that the program goes by; who practises, and what they
remember."""

from __future__ import annotations

from django.http import HttpRequest, StreamingHttpResponse
from ninja import Router, Status

from coldstack.server.api.errors import Problem
from coldstack.server.practice import actions, views
from coldstack.server.practice import replies as r
from coldstack.server.practice import schemas as s
from coldstack.server.practice.assemble import exercise_of

router = Router(tags=["practice"])
ASKED = frozenset({400, 412, 422})
WRITTEN = frozenset({400, 403, 404, 422})


@router.get("/practice/kinds", auth=None, response=list[r.KindOut], summary="Kinds of tasks")
def kinds(request: HttpRequest) -> list[r.KindOut]:
    """What can be practised, in the order in which one meets it."""
    return views.kinds_out()


@router.post("/practice/task", auth=None, response={200: r.TaskOut, ASKED: Problem}, summary="One task")
def task(request: HttpRequest, data: s.TaskIn) -> r.TaskOut:
    """Made up from its seed, or of one's own gear."""
    return views.task_out(exercise_of(data))


@router.post(
    "/practice/answer", auth=None, response={200: r.JudgedOut, ASKED: Problem}, summary="What comes of it"
)
def answer(request: HttpRequest, data: s.PracticeAnswersIn) -> r.JudgedOut:
    """Right, wasteful or dangerous, each with why; seen through, and with the working. Nothing is kept."""
    return views.judged_out(data)


@router.post("/practice/sheet", auth=None, response={200: r.SheetOut, ASKED: Problem}, summary="A sheet")
def sheet(request: HttpRequest, data: s.SheetIn) -> r.SheetOut:
    """To print: tasks, and what is right of each."""
    return views.sheet_out(data)


@router.get("/practice/people", response=list[r.PersonOut], summary="Who practises here")
def people(request: HttpRequest) -> list[r.PersonOut]:
    """By name, with how many skills are due."""
    return views.people_out()


@router.post("/practice/people", response={201: r.ProgressNow, WRITTEN: Problem}, summary="Somebody new")
def add_person(request: HttpRequest, data: s.PersonIn) -> Status[r.ProgressNow]:
    """A name, no account; who was taken away under it comes back."""
    return Status(201, views.progress_out(actions.add_person(data.name).pk))


@router.get(
    "/practice/people/{person_id}",
    response={200: r.ProgressNow, 404: Problem},
    summary="How far one is",
)
def progress(request: HttpRequest, person_id: int) -> r.ProgressNow:
    """How sure of what, and what comes next."""
    return views.progress_out(person_id)


@router.delete(
    "/practice/people/{person_id}", response={200: list[r.PersonOut], WRITTEN: Problem}, summary="Take away"
)
def remove_person(request: HttpRequest, person_id: int) -> list[r.PersonOut]:
    """From the list; it can be undone."""
    actions.remove_person(person_id)
    return views.people_out()


@router.post(
    "/practice/people/{person_id}/back",
    response={200: list[r.PersonOut], WRITTEN: Problem},
    summary="Bring somebody back",
)
def bring_person_back(request: HttpRequest, person_id: int) -> list[r.PersonOut]:
    """With all that they knew."""
    actions.bring_person_back(person_id)
    return views.people_out()


@router.put(
    "/practice/people/{person_id}",
    response={200: r.ProgressNow, WRITTEN: Problem},
    summary="Follow a course",
)
def follow(request: HttpRequest, person_id: int, data: s.PersonChangesIn) -> r.ProgressNow:
    """Or none."""
    actions.follow(person_id, data.course)
    return views.progress_out(person_id)


@router.post(
    "/practice/people/{person_id}/answers",
    response={200: r.KeptOut, WRITTEN | {412}: Problem},
    summary="Answer, to be remembered",
)
def keep_answer(request: HttpRequest, person_id: int, data: s.KeptAnswersIn) -> r.KeptOut:
    """What comes of it, and when it comes again."""
    return views.kept_out(*actions.keep_answer(person_id, data))


@router.post(
    "/practice/people/{person_id}/anew",
    response={200: r.ProgressNow, WRITTEN: Problem},
    summary="Begin anew",
)
def begin_anew(request: HttpRequest, person_id: int) -> r.ProgressNow:
    """All answers are withdrawn."""
    actions.begin_anew(person_id)
    return views.progress_out(person_id)


@router.post(
    "/practice/people/{person_id}/anew/back",
    response={200: r.ProgressNow, WRITTEN: Problem},
    summary="Undo beginning anew",
)
def bring_answers_back(request: HttpRequest, person_id: int) -> r.ProgressNow:
    """The answers that were withdrawn last count again."""
    actions.bring_answers_back(person_id)
    return views.progress_out(person_id)


@router.get("/practice/answers.csv", summary="Every answer as CSV")
def answers_file(request: HttpRequest) -> StreamingHttpResponse:
    """For a spreadsheet: who answered what, when, and what came of it."""
    reply = StreamingHttpResponse(views.answers_csv(), content_type="text/csv; charset=utf-8")
    reply["Content-Disposition"] = 'attachment; filename="cold-stack-practice.csv"'
    return reply


@router.get("/practice/courses", response=list[r.CourseOut], summary="Courses")
def courses(request: HttpRequest) -> list[r.CourseOut]:
    """Which kinds in which order, by which house rules; and who follows them."""
    return views.courses_out()


@router.post("/practice/courses", response={201: r.CourseOut, WRITTEN: Problem}, summary="A course")
def add_course(request: HttpRequest, data: s.CourseIn) -> Status[r.CourseOut]:
    """Of one's own."""
    return Status(201, views.course_out(actions.add_course(data)))


@router.put(
    "/practice/courses/{course_id}", response={200: r.CourseOut, WRITTEN: Problem}, summary="Change a course"
)
def change_course(request: HttpRequest, course_id: int, data: s.CourseIn) -> r.CourseOut:
    """Who follows it goes by it at once."""
    return views.course_out(actions.change_course(course_id, data))


@router.delete(
    "/practice/courses/{course_id}",
    response={200: list[r.CourseOut], WRITTEN: Problem},
    summary="Delete a course",
)
def remove_course(request: HttpRequest, course_id: int) -> list[r.CourseOut]:
    """It can be brought back."""
    actions.remove_course(course_id)
    return views.courses_out()


@router.post(
    "/practice/courses/{course_id}/back",
    response={200: list[r.CourseOut], WRITTEN: Problem},
    summary="Bring a course back",
)
def bring_course_back(request: HttpRequest, course_id: int) -> list[r.CourseOut]:
    """And those who followed it."""
    actions.bring_course_back(course_id)
    return views.courses_out()

"""Practice over the API: tasks, people, what they remember, courses, sheets; and that no task is at odds with
what the program says of the same gear."""

import csv
import io
import json
from datetime import timedelta

from coldstack.core.practice.practice import KINDS
from coldstack.core.practice.task import LEVELS
from coldstack.server.gear.models import Charger, OwnedPack, RcModel
from coldstack.server.practice.models import PracticeAnswer, PracticePerson, PracticeSkill
from tests.clock import CLOCK
from tests.lives import forget
from tests.server.case import DemoCase

KEY = "a-press-of-answer"


class PracticeCase(DemoCase):
    def said(self, path, body, status=200, method="post"):
        call = getattr(self.client, method)
        reply = call(f"/api/practice/{path}", json.dumps(body), content_type="application/json")
        self.assertEqual(reply.status_code, status, reply.content[:400])
        return reply.json()

    def get(self, path):
        reply = self.client.get(f"/api/practice/{path}")
        self.assertEqual(reply.status_code, 200, reply.content[:300])
        return reply.json()

    def ask(self, kind="label", level="first_day", seed=1, **more):
        return {"kind": kind, "level": level, "seed": seed, **more}

    def anything(self, task):
        """An answer to everything, whatever it is worth."""
        said = {}
        for q in task["questions"]:
            asks = q["asks"]
            ids = [o["id"] for o in asks.get("options", [])]
            said[q["id"]] = 0 if asks["shape"] == "number" else ids if asks["shape"] == "order" else ids[0]
        return said

    def matched(self, pack, charger):
        """What Match says of them, on the mains, by the steady rules."""
        job = self.job("ptarmigan", house_rules="steady")
        charge = {"charger": str(charger.pk), "source": "mains"}
        reply = self.post("/api/match", {"job": job, "pack": f"owned:{pack}", "charge": charge})
        self.assertEqual(reply.status_code, 200, reply.content[:400])
        return reply.json()["charge"]["settings"]

    def right(self, ask):
        """What is right, in words, by question."""
        came = self.said("answer", {**ask, "answers": self.anything(self.said("task", ask))})["came"]
        return {c["question"]: c["right"] for c in came}

    def right_answers(self, ask):
        """The right answers of a label, as numbers."""
        return {q: float(words.split()[0]) for q, words in self.right(ask).items()}

    def person(self, name="Signe"):
        return self.said("people", {"name": name}, 201)

    def answer(self, person, ask, answers, key=KEY, status=200, **more):
        body = {**ask, "answers": answers, "key": key, **more}
        return self.said(f"people/{person['id']}/answers", body, status)


class Tasks(PracticeCase):
    def test_all_kinds_and_levels(self):
        """The same for the same seed; judged, with a working."""
        self.assertEqual([k["id"] for k in self.get("kinds")], list(KINDS))
        for kind in KINDS:
            for level in LEVELS:
                ask = self.ask(kind, level, 5)
                task = self.said("task", ask)
                self.assertEqual(task, self.said("task", ask))
                judged = self.said("answer", {**ask, "answers": self.anything(task)})
                self.assertIn(judged["outcome"], ("right", "wasteful", "dangerous"))
                self.assertTrue(judged["working"]["steps"])

    def test_a_wrong_setting_is_seen_through(self):
        """Cell by cell, with what happens when."""
        ask = self.ask("settings", seed=12)
        right = self.right(ask)
        cells = int(right["series"].split()[0])
        answers = {"program": "lipo", "series": cells + 1, "amps": float(right["amps"].split()[0])}
        judged = self.said("answer", {**ask, "answers": answers})
        self.assertEqual(judged["outcome"], "dangerous")
        self.assertEqual([m["mark"] for m in judged["ran"]["moments"]], ["over full", "swells", "may burn"])
        self.assertEqual(len(judged["ran"]["lines"]), cells)
        self.assertLess(len(judged["ran"]["time_s"]), 120)

    def test_by_the_houses_rules(self):
        """A set of one's own is what it is judged by, also when it is changed."""
        made = self.client.post(
            "/api/rules/sets", {"name": "Slow and low", "copy_of": "steady"}, content_type="application/json"
        ).json()
        before = self.right(self.ask("settings", seed=12, house_rules=made["id"]))
        self.client.put(
            f"/api/rules/sets/{made['id']}",
            {"values": {**made["values"], "charge_c_limit": 0.5}},
            content_type="application/json",
        )
        after = self.right(self.ask("settings", seed=12, house_rules=made["id"]))
        self.assertLess(float(after["amps"].split()[0]), 0.6 * float(before["amps"].split()[0]) + 0.1)

    def test_what_is_nothing_known(self):
        """Kinds, levels, rules, seeds; answers that are none, at their question."""
        for ask in (
            self.ask("juggling"),
            self.ask(level="master"),
            self.ask(seed=-1),
            self.ask(seed=2**31),
            self.ask(house_rules="nobody's"),
            {**self.ask(), "more": 1},
        ):
            self.said("task", ask, 422)
        bad = {**self.ask("settings"), "answers": {"program": "lipo", "series": 3, "amps": "much"}}
        self.assert_problem(self.post("/api/practice/answer", bad), 422, "amps", "number")
        for odd in ({}, {"series": None}, {"series": [1]}, {"series": {"a": 1}}, {"series": "\ud800"}):
            text = json.dumps({**self.ask(), "answers": odd})
            reply = self.client.post("/api/practice/answer", text, content_type="application/json")
            self.assertEqual(reply.status_code, 422, odd)


class OwnGear(PracticeCase):
    def test_none_contradicts_match(self):
        """Settings of one's own pack on one's own charger: program, cells, amps, end volts, timer and cut-off
        are those that Match says."""
        chargers, checked = {c.name: c for c in Charger.live.all()}, 0
        for seed in range(24):
            ask = self.ask("settings", "expert", seed, own=True, house_rules="steady")
            task = self.said("task", ask)
            if not task["own"]:
                continue
            tag, charger = task["things"][0]["name"], chargers[task["things"][1]["name"]]
            matched = self.matched(tag, charger)
            right = self.right(ask)
            self.assertEqual(right["program"], matched["chemistry"])
            self.assertEqual(int(right["series"].split()[0]), matched["series"])
            self.assertAlmostEqual(float(right["amps"].split()[0]), matched["current_a"], places=6)
            self.assertEqual(right["timer"], f"{matched['timer_min']} min")
            self.assertEqual(right["cutoff"], f"{matched['cutoff_mah']} mAh")
            if matched["end_v"] is not None:
                self.assertEqual(right["end_v"], f"{matched['end_v']:.2f} V")
            checked += 1
        self.assertGreater(checked, 12)

    def test_none_contradicts_what_binds(self):
        """The tightest limit is the one that Match names, with one port in use."""
        chargers = {c.name: c for c in Charger.live.all()}
        for seed in range(30):
            ask = self.ask("binds", "season", seed, own=True, house_rules="steady")
            task = self.said("task", ask)
            if not task["own"] or " 1 of its" not in task["words"]:
                continue
            found = self.matched(task["things"][0]["name"], chargers[task["things"][1]["name"]])
            self.assertEqual(self.right(ask)["limit"], found["binding"])

    def test_none_contradicts_run(self):
        """Go or no go of one's own pack in one's own model, and the timer, are those that Run says of the
        same cells at the same warmth."""
        models, checked = {m.name: m.slug for m in RcModel.live.all()}, 0
        for seed in range(40):
            ask = self.ask("go", "season", seed, own=True)
            task = self.said("task", ask)
            sheet, meter = task["things"]
            if not task["own"]:
                continue
            cells = " ".join(f"{v:.3f}" for v in meter["cell_v"])
            degrees = float(meter["lines"][0].split()[-2])
            told = {"model": models[sheet["name"]], "pack": meter["name"].split(":")[0], "cells": cells}
            run = self.post("/api/run/go", {**told, "temperature_c": degrees}).json()
            if any(x["id"] in ("barred", "stranger") for x in run["reasons"]):
                continue
            right = self.right(ask)
            names = {"Go": "go", "Go, with care": "careful", "No go": "no_go"}
            self.assertEqual(names[right["verdict"]], run["verdict"], (task, run["reasons"]))
            if run["verdict"] != "no_go":
                minutes, seconds = map(int, right["timer"].split(":"))
                self.assertEqual(60 * minutes + seconds, run["timer_s"])
            checked += 1
        self.assertGreater(checked, 10)

    def test_none_contradicts_charge(self):
        """To storage: the way that Charge says for the same pack, charger and cells."""
        checked = 0
        for seed in range(30):
            ask = self.ask("storage", "season", seed, own=True, house_rules="steady")
            task = self.said("task", ask)
            label, meter, *sheet = task["things"]
            if not task["own"] or not sheet:
                continue
            pack = f"owned:{label['name']}"
            cells = " ".join(f"{v:.3f}" for v in meter["cell_v"])
            bench = {"laid": [{"pack": pack, "cells": cells}], "house_rules": "steady"}
            reply = self.post("/api/bench/storage", {"bench": bench, "pack": pack})
            self.assertEqual(reply.status_code, 200, reply.content[:300])
            way = next(x for x in reply.json()["ways"] if x["charger_name"] == sheet[0]["name"])
            right = self.right(ask)
            words = {"charge": "Charge it", "discharge": "Discharge it", "none": "Leave it"}
            self.assertTrue(right["way"].startswith(words[way["direction"]]), (task, way))
            self.assertEqual(right["long"], f"about {way['time_words']}")
            checked += 1
        self.assertGreater(checked, 8)

    def test_an_empty_shelf(self):
        """Made-up packs stand in, and it says that it is not of one's own."""
        forget()
        OwnedPack.objects.all().delete()
        Charger.objects.all().delete()
        for kind in ("label", "settings", "binds", "gate", "storage"):
            self.assertFalse(self.said("task", self.ask(kind, own=True))["own"], kind)

    def test_gear_that_changes_meanwhile(self):
        """An answer to a task that is not there any more is refused, and kept nowhere."""
        person, ask = self.person(), self.ask("label", own=True, seed=3)
        task = self.said("task", ask)
        pack = OwnedPack.live.get(tag=task["things"][0]["name"])
        OwnedPack.objects.filter(pk=pack.pk).update(capacity_ah=pack.capacity_ah + 0.1)
        answers = self.anything(task)
        self.answer(person, ask, answers, version=task["version"], status=412)
        self.assertFalse(PracticeAnswer.objects.filter(person=person["id"]).exists())
        again = self.said("task", ask)
        self.answer(person, ask, answers, version=again["version"])


class People(PracticeCase):
    def test_by_name(self):
        """Blanks do not count, capitals neither; taken away and back with all that was known."""
        person = self.person("  Signe   B ")
        self.assertEqual(person["name"], "Signe B")
        for name, status in (("signe b", 422), ("  ", 422), ("x" * 41, 422)):
            self.said("people", {"name": name}, status)
        self.answer(person, self.ask(), self.right_answers(self.ask()))
        left = self.client.delete(f"/api/practice/people/{person['id']}").json()
        self.assertNotIn("Signe B", [p["name"] for p in left])
        self.assertEqual(self.client.get(f"/api/practice/people/{person['id']}").status_code, 404)
        self.assertEqual(self.person("Signe B")["answered"], 1)
        self.client.delete(f"/api/practice/people/{person['id']}")
        back = self.said(f"people/{person['id']}/back", {})
        self.assertIn("Signe B", [p["name"] for p in back])
        self.assert_problem(self.post("/api/practice/people/99999/back", {}), 422, "person")

    def test_several_remember_apart(self):
        """What one knows another does not."""
        one, other = self.person("A"), self.person("B")
        self.answer(one, self.ask(), self.right_answers(self.ask()))
        self.assertEqual(self.get(f"people/{one['id']}")["kinds"][0]["levels"][0], 0.5)
        self.assertIsNone(self.get(f"people/{other['id']}")["kinds"][0]["levels"][0])


class Memory(PracticeCase):
    def test_said_twice_is_done_once(self):
        """With its key; another's key is refused."""
        person, right = self.person(), self.right_answers(self.ask())
        first = self.answer(person, self.ask(), right)
        again = self.answer(person, self.ask(), right)
        self.assertEqual(first["progress"]["answered"], 1)
        self.assertEqual(again["progress"]["answered"], 1)
        self.answer(self.person("B"), self.ask(), right, status=422)

    def test_said_again_otherwise_it_is_what_was_said_first(self):
        """The reply is that of the answer that was kept."""
        person, right = self.person(), self.right_answers(self.ask())
        first = self.answer(person, self.ask(), right)
        other = self.answer(person, self.ask(seed=9), {**right, "series": 14})
        self.assertEqual(first["judged"], other["judged"])

    def test_what_was_not_asked(self):
        """Is refused and kept nowhere; so is what is far too long."""
        person, right = self.person(), self.right_answers(self.ask())
        for more in ({"juggling": 1}, {"series": "x" * 10_000}, {"series": 10**300}, {"k" * 500: "x"}):
            self.answer(person, self.ask(), {**right, **more}, status=422)
        self.assertFalse(PracticeAnswer.objects.filter(person=person["id"]).exists())

    def test_a_skill_comes_back_after_days(self):
        """Right twice it is learnt, and comes back when the day is there; until then others are new."""
        person, right = self.person(), self.right_answers(self.ask())
        with CLOCK.earlier(timedelta(days=9, minutes=30)):
            self.answer(person, self.ask(), right, "first-press")
        with CLOCK.earlier(timedelta(days=9)):
            known = self.answer(person, self.ask(), right, "second-press")["progress"]
            self.assertEqual(known["kinds"][0]["levels"][0], 1.0)
            self.assertEqual((known["next_up"]["kind"], known["next_up"]["why"]), ("settings", "new"))
        later = self.get(f"people/{person['id']}")
        self.assertEqual((later["next_up"]["kind"], later["next_up"]["why"]), ("label", "due"))
        self.assertLess(later["kinds"][0]["levels"][0], 0.9)
        due = next(p for p in self.get("people") if p["id"] == person["id"])["due"]
        self.assertEqual(due, 1)

    def test_five_minutes_a_day(self):
        """Counted by what tasks took, none for longer than two minutes; yesterday's do not count."""
        person, right = self.person(), self.right_answers(self.ask())
        with CLOCK.earlier(timedelta(days=1)):
            self.answer(person, self.ask(), right, "yesterday", took_s=100)
        self.answer(person, self.ask(), right, "left-lying", took_s=80_000)
        now = self.answer(person, self.ask(), right, "quick-one", took_s=30)["progress"]
        self.assertEqual((now["today_s"], now["enough"]), (150, False))
        now = self.answer(person, self.ask(), right, "third-one", took_s=120)["progress"]
        now = self.answer(person, self.ask(), right, "fourth-one", took_s=60)["progress"]
        self.assertTrue(now["enough"])

    def test_begin_anew_and_undo(self):
        """Nothing is deleted: withdrawn, and brought back as it was, with what was said since."""
        person, right = self.person(), self.right_answers(self.ask())
        self.answer(person, self.ask(), right, "one-press")
        before = self.answer(person, self.ask(), right, "two-press")["progress"]
        anew = self.said(f"people/{person['id']}/anew", {})
        self.assertEqual((anew["answered"], anew["anew"]), (0, 2))
        self.assertIsNone(anew["kinds"][0]["levels"][0])
        self.assertEqual(PracticeAnswer.objects.filter(person=person["id"]).count(), 2)
        back = self.said(f"people/{person['id']}/anew/back", {})
        self.assertEqual(back["kinds"], before["kinds"])
        self.assertEqual(back["answered"], 2)
        self.said(f"people/{person['id']}/anew/back", {}, 422)

    def test_what_is_kept_is_what_follows_from_the_answers(self):
        """For those of the demo: made anew from their answers, every skill is the same."""
        for person in PracticePerson.objects.all():
            had = list(
                person.skills.order_by("kind", "level").values_list("kind", "level", "due", "stability_d")
            )
            self.assertTrue(had)
            self.said(f"people/{person.pk}/anew", {})
            self.said(f"people/{person.pk}/anew/back", {})
            now = list(
                person.skills.order_by("kind", "level").values_list("kind", "level", "due", "stability_d")
            )
            self.assertEqual(had, now)

    def test_as_many_queries_after_five_years(self):
        """However much was answered."""
        person = self.person()
        row = PracticePerson.objects.get(pk=person["id"])
        self.get(f"people/{person['id']}")

        def queries():
            with self.assertNumQueries(5):
                self.get(f"people/{person['id']}")

        queries()
        at = CLOCK.now() - timedelta(days=1825)
        PracticeAnswer.objects.bulk_create(
            PracticeAnswer(
                key=f"k{k}",
                person=row,
                kind="label",
                level="season",
                seed=k,
                outcome="right",
                at=at + timedelta(hours=4 * k),
                took_s=20,
            )
            for k in range(10_000)
        )
        queries()

    def test_the_list_asks_no_more_for_more_people(self):
        """Two queries."""
        for k in range(5):
            self.person(f"Somebody {k}")
        with self.assertNumQueries(2):
            self.get("people")

    def test_answers_that_no_kind_knows_any_more(self):
        """A skill of an older program is left out, and nothing fails."""
        person = self.person()
        PracticeSkill.objects.create(
            person_id=person["id"],
            kind="juggling",
            level="expert",
            last="right",
            at=CLOCK.now(),
            due=CLOCK.now(),
            learnt=True,
            again=False,
            step=None,
            stability_d=3,
            difficulty=5,
        )
        self.assertEqual(self.get(f"people/{person['id']}")["next_up"]["kind"], "label")

    def test_as_a_file(self):
        """Every answer as CSV; what looks like a formula is none."""
        person = self.person("=1+1")
        self.answer(person, self.ask(), self.right_answers(self.ask()), took_s=12)
        text = b"".join(self.client.get("/api/practice/answers.csv").streaming_content).decode()
        rows = list(csv.DictReader(io.StringIO(text)))
        mine = next(r for r in rows if "1+1" in r["person"])
        self.assertNotEqual(mine["person"][0], "=")
        self.assertEqual((mine["kind"], mine["outcome"], mine["took_s"]), ("label", "right", "12.0"))


class Courses(PracticeCase):
    STEPS = [{"kind": "plugs", "level": "first_day"}, {"kind": "order", "level": "first_day"}]

    def course(self, name="Thursday", status=201, **more):
        return self.said("courses", {"name": name, "steps": self.STEPS, **more}, status)

    def follow(self, person, course):
        return self.said(f"people/{person['id']}", {"course": course}, method="put")

    def test_in_its_order_by_its_rules(self):
        """Who follows it gets its kinds, judged by its house rules."""
        course, person = self.course(house_rules="field_day"), self.person()
        now = self.follow(person, course["id"])
        self.assertEqual((now["next_up"]["kind"], now["next_up"]["house_rules"]), ("plugs", "field_day"))
        self.said(f"courses/{course['id']}", {"name": "Thursday", "steps": self.STEPS[::-1]}, method="put")
        self.assertEqual(self.get(f"people/{person['id']}")["next_up"]["kind"], "order")
        mine = next(c for c in self.get("courses") if c["id"] == course["id"])
        self.assertEqual(mine["followed_by"], ["Signe"])

    def test_deleted_and_back(self):
        """Who followed it goes by all kinds meanwhile."""
        course, person = self.course(), self.person()
        self.follow(person, course["id"])
        self.client.delete(f"/api/practice/courses/{course['id']}")
        self.assertEqual(self.get(f"people/{person['id']}")["next_up"]["kind"], "label")
        self.said(f"people/{person['id']}", {"course": course["id"]}, 422, "put")
        self.said(f"courses/{course['id']}/back", {})
        self.assertEqual(self.get(f"people/{person['id']}")["next_up"]["kind"], "plugs")

    def test_what_is_no_course(self):
        """A name that is taken, no steps, the same twice, unknown kinds or rules."""
        self.course()
        self.course("THURSDAY", 422)
        for steps in ([], self.STEPS * 2, [{"kind": "juggling", "level": "expert"}]):
            self.said("courses", {"name": "Other", "steps": steps}, 422)
        self.course("Other", 422, house_rules="nobody's")

    def test_a_set_that_a_course_goes_by_stays(self):
        """It cannot be deleted while a course goes by it."""
        made = self.client.post(
            "/api/rules/sets", {"name": "Club", "copy_of": "steady"}, content_type="application/json"
        ).json()
        self.course(house_rules=made["id"])
        reply = self.client.delete(f"/api/rules/sets/{made['id']}")
        self.assert_problem(reply, 422, "set", "the course Thursday")


class Sheets(PracticeCase):
    def sheet(self, **more):
        return self.said("sheet", {"steps": Courses.STEPS, "count": 5, "seed": 4, **more})

    def test_the_same_seed_the_same_sheet(self):
        """Steps in turn, each with what is right; another seed has other tasks."""
        one = self.sheet()
        self.assertEqual(one, self.sheet())
        self.assertNotEqual(one["tasks"], self.sheet(seed=5)["tasks"])
        self.assertEqual(
            [t["task"]["kind"] for t in one["tasks"]], ["plugs", "order", "plugs", "order", "plugs"]
        )
        for t in one["tasks"]:
            self.assertEqual(len(t["right"]), len(t["task"]["questions"]))
            ask = {k: t["task"][k] for k in ("kind", "level", "seed")}
            self.assertEqual(list(self.right(ask).values()), t["right"])

    def test_what_is_no_sheet(self):
        """None or too many tasks, no steps."""
        for more in ({"count": 0}, {"count": 41}, {"steps": []}):
            self.said("sheet", {"steps": Courses.STEPS, "count": 5, "seed": 4, **more}, 422)

"""Tasks about what is seen, felt, read and noted: judged again from the house's figures, by other means."""

from statistics import median
from unittest import TestCase

from coldstack.core.charging.inspection import SIGNS
from coldstack.core.practice.kinds import accident, gate, sick
from coldstack.core.practice.practice import exercise
from coldstack.core.practice.task import LEVELS, Given, first_answers
from coldstack.core.rules.house_rules import house_rules
from coldstack.core.safety.page import SAFETY
from coldstack.core.units import DEG
from coldstack.core.watching.what_to_do import what_to_do
from tests.core.practice.many import choices, chosen, many, read, rights


class Gate(TestCase):
    def outcome(self, e, rules):
        """Retire, wait, mend or charge, by what lies before one."""
        felt, meter = e.task.things[1].lines, e.task.things[2]
        cell, *_ = read(e.task.things[0])
        text = " ".join(felt)
        sign = next((s for s, words in gate.FELT.items() if words in text), None)
        degrees = next((float(x.split()[-2]) for x in felt if x.endswith(f"{DEG}")), None)
        if min(meter.cell_v) < cell.damage_v or sign in ("swollen", "dented", "punctured"):
            return "retire"
        if max(meter.cell_v) > cell.full_v + 0.03 or sign in ("leads",):
            return "mend"
        ago = next((float(x.split()[1]) for x in felt if x.startswith("run")), None)
        hot = degrees is not None and not 0 <= degrees <= 40
        return "wait" if hot or sign == "warm" or (ago is not None and ago < rules.cool_min) else "pass"

    def test_by_what_lies_before_one(self):
        """One answer is right; to charge what may not be charged is dangerous, to wait for nothing is not."""
        seen = set()
        for e, rules in many("gate", 4000):
            wanted = self.outcome(e, rules)
            seen.add(wanted)
            for said in choices(e.task):
                outcome = e.judge(said).outcome
                self.assertEqual(outcome == "right", said["what"] == wanted, (e.task, said))
                self.assertEqual(outcome == "dangerous", said["what"] == "pass" != wanted)
        self.assertEqual(seen, {"pass", "wait", "mend", "retire"})

    def test_each_sign_is_felt(self):
        """In words of the hand that do not say its name; all of them come up."""
        for sign, words in gate.FELT.items():
            self.assertNotIn(SIGNS[sign].name.split()[0].lower(), words)
        texts = " ".join(" ".join(e.task.things[1].lines) for e, _ in many("gate", 8000))
        for words in gate.FELT.values():
            self.assertIn(words, texts)


class GoOrNoGo(TestCase):
    def test_by_the_limits_of_the_house(self):
        """Damaged, over full, far apart, frozen or hot: no go, whatever else; a sound full pack goes."""
        seen = set()
        for e, rules in many("go", 400):
            volts = e.task.things[1].cell_v
            degrees = float(e.task.things[1].lines[0].split()[-2])
            spread = max(volts) - min(volts)
            never = min(volts) < 3.0 or max(volts) > 4.23 or spread > rules.spread_act_v + 1e-9
            never |= degrees < 0 or degrees > rules.hot_run_c
            right = chosen(e.task, "verdict", rights(e)["verdict"])
            seen.add(right)
            if never:
                self.assertEqual(right, "no_go", e.task)
            elif min(volts) > 4.14 and spread < 0.009 and rules.cold_run_c <= degrees <= 40:
                self.assertEqual(right, "go", e.task)
            for said in choices(e.task):
                found = {c.question: c.outcome for c in e.judge(said).came}
                self.assertEqual(found["verdict"] == "right", said["verdict"] == right)
                self.assertEqual(found["verdict"] == "dangerous", right == "no_go" != said["verdict"])
                if "timer" in said:
                    late = said["timer"] not in ("none", "0.5", "1")
                    none = right == "no_go"
                    self.assertEqual(found["timer"] == "dangerous", said["timer"] != "none" if none else late)
        self.assertEqual(seen, {"go", "careful", "no_go"})

    def test_a_timer_by_hand(self):
        """The right one is no longer than its told minutes, and not far from them for a full warm pack."""
        for e, _ in many("go", 400):
            said = rights(e)
            volts = e.task.things[1].cell_v
            warm = e.task.things[1].lines[0].startswith("as warm as 20 ")
            if said.get("timer", "It is not run") == "It is not run" or not warm or min(volts) < 4.15:
                continue
            minutes, seconds = map(int, said["timer"].split(":"))
            told = float(e.task.things[0].lines[2].split()[1])
            self.assertLess(minutes + seconds / 60, 1.02 * told, e.task)
            self.assertGreater(minutes + seconds / 60, 0.75 * told, e.task)


class WhichPack(TestCase):
    def test_one_of_three(self):
        """The right one has the cells, the plug, about the charge and the C of what it runs on; smoke comes
        of too many cells."""
        for e, _ in many("which", 300):
            sheet, *labels = e.task.things
            told = sheet.lines[2].split()
            cells, mah = int(told[6].rstrip("S")), int(told[7])
            right = rights(e)["which"]
            for label in labels:
                series = int(label.lines[0].split("S")[0])
                held = int(label.lines[1].split()[0])
                outcome = e.judge({"which": label.name}).outcome
                self.assertEqual(outcome == "right", label.name == right)
                if label.name == right:
                    self.assertEqual(series, cells)
                    self.assertTrue(0.95 * mah <= held <= 1.2 * mah, e.task)
                    self.assertIn(f"{label.lines[2].split()[-1]} plug", sheet.lines[1])
                elif series > cells:
                    self.assertEqual(outcome, "dangerous", e.task)


class Sick(TestCase):
    def figures(self, thing):
        """Of each row of a page: its resistances, what it held, how far its cells were apart."""
        for row in thing.lines[1:]:
            mohm, held, apart = row.split(": ")[1].split("; ")
            yield [float(x) for x in mohm.split()[:-1]], float(held.split()[0]), float(apart.split()[0])

    def is_sick(self, thing, rules):
        """By its page: one cell against its neighbours, all of them against the first, what it holds, how far
        its cells are apart."""
        rows = list(self.figures(thing))
        label = float(thing.lines[0].split()[1])
        first, late = rows[0], rows[1:]
        held = median(r[1] for r in late) / label
        apart = median(r[2] for r in late) / 1000
        grown = median(median(r[0]) for r in late) / median(first[0])
        one = max(
            median(r[0][k] / median(r[0][:k] + r[0][k + 1 :]) for r in late) for k in range(len(first[0]))
        )
        return held < 0.9 or apart >= rules.spread_watch_v - 1e-9 or grown > 1.3 or one > 1.2

    def test_by_its_page(self):
        """The sick one is told by its figures; what it looks like tells nothing."""
        seen, looks = set(), set()
        for e, rules in many("sick", 400):
            right = rights(e)["which"]
            for thing in e.task.things:
                sick_now = self.is_sick(thing, rules)
                self.assertEqual(sick_now, thing.name == right, (e.task, thing.name))
                looks.add((thing.lines[0].split("looks ")[1], sick_now))
            which = "none" if right == "None of them" else right
            seen.add(which == "none")
            for said in choices(e.task):
                self.assertEqual(e.judge(said).came[0].outcome == "right", said["which"] == which)
        self.assertEqual(seen, {True, False})
        self.assertEqual(len(looks), 2 * len(sick.LOOKS))

    def test_one_bad_cell_condemns_it(self):
        """Then anything but to retire it is dangerous."""
        for e, _ in many("sick", 400):
            said = rights(e)
            if said.get("do") == "Retire it":
                for way in choices(e.task):
                    outcome = e.judge(way).came[1].outcome
                    self.assertEqual(outcome, "right" if way["do"] == "retire" else "dangerous")


class Accidents(TestCase):
    def test_by_the_programs_own_words(self):
        """Each case stands on a sentence that the program says where it happens; one answer is right, who
        harms somebody hears so."""
        page = {c.sentence for section in SAFETY for c in section.cautions}
        page |= {s.sentence for s in SIGNS.values()}
        page |= {
            " ".join(what_to_do(x, over=over)) for x in ("not_following", "not_judged") for over in (0, 1)
        }
        for case in accident.CASES:
            self.assertIn(case.why, page)
        met = set()
        for seed in range(400):
            e = exercise("accident", Given(seed, LEVELS[seed % 3], house_rules("steady")))
            case = next(c for c in accident.CASES if c.words == e.task.words)
            met.add(case.words)
            self.assertIn(e.task.level, case.levels)
            names = {o.id: o.name for o in e.task.questions[0].asks.options}
            for said in choices(e.task):
                name, found = names[said["first"]], e.judge(said)
                wanted = "right" if name == case.right else "dangerous" if name in case.harms else "wasteful"
                self.assertEqual(found.outcome, wanted)
                self.assertIn(case.why, found.came[0].sentence)
        self.assertEqual(len(met), len(accident.CASES))

    def test_the_options_give_no_place_away(self):
        """The right one stands in every place."""
        at = set()
        for seed in range(60):
            e = exercise("accident", Given(seed, "expert", house_rules("steady")))
            right = e.judge(first_answers(e.task)).came[0].right
            at.add([o.name for o in e.task.questions[0].asks.options].index(right))
        self.assertLessEqual({0, 1, 2, 3}, at)

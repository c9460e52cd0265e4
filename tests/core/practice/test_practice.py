"""Tasks from seeds: exactly the right answers are judged right, by other means than the judge's."""

import re
from fractions import Fraction
from itertools import permutations
from unittest import TestCase

from coldstack.core.cells.chemistry import CHEMISTRIES
from coldstack.core.chain.plugs import LOOK_ALIKES, PLUGS
from coldstack.core.charging.amps import NIMH_CHARGING_V
from coldstack.core.errors import DomainError
from coldstack.core.practice.practice import KINDS, exercise
from coldstack.core.practice.task import LEVELS, Given, Number, first_answers
from coldstack.core.rules.house_rules import for_chemistry, house_rules
from tests.core.practice.many import choices, limits, many, read


def given(seed, level="first_day"):
    """By the steady rules."""
    return Given(seed, level, house_rules("steady"))


class Seeds(TestCase):
    def test_the_same_seed_makes_the_same_task(self):
        """And another seed another, of every kind and level."""
        for kind in KINDS:
            for level in LEVELS:
                one, again, other = (exercise(kind, given(s, level)).task for s in (7, 7, 8))
                self.assertEqual(one, again)
                self.assertNotEqual(one, other)
        with self.assertRaises(DomainError):
            exercise("juggling", given(1))

    def test_every_text_has_its_numbers_and_units(self):
        """No field is left open, no number stands without what it counts, no sentence without its end."""
        for kind in KINDS:
            for e, _ in many(kind, 1200):
                self.assertTrue(all(q.words.endswith("?") for q in e.task.questions), e.task)
                judged = e.judge(first_answers(e.task))
                for text in (e.task.words, *(c.sentence for c in judged.came)):
                    self.assertRegex(text, r"[.?!]$", e.task)
                    self.assertNotRegex(text, r"\bNone\b|\bnan\b|\binf\b|[{}]|  |\.\.|; \.", e.task)
                for c in judged.came:
                    self.assertNotRegex(c.right, r"^$|\bNone$|nan")
                self.assertTrue(judged.working.steps, e.task)
                asked = {q.id: q for q in e.task.questions}
                for c in judged.came:
                    asks = asked[c.question].asks
                    if isinstance(asks, Number) and asks.unit:
                        self.assertTrue(c.right.endswith(f" {asks.unit}"), c)

    def test_what_is_no_answer(self):
        """Is told at its question: nothing, words for a number, a choice that is not there, half an order."""
        for kind, wrong in (
            ("label", {"series": "three"}),
            ("label", dict.fromkeys(("series", "end_v", "one_c"), float("nan"))),
            ("label", dict.fromkeys(("series", "end_v", "one_c"), 1e300)),
            ("settings", {"program": "nicd", "series": 3.0, "amps": 1.0}),
            ("settings", {"program": "lipo", "series": True, "amps": 1.0}),
            ("order", {"order": ("lead",)}),
            ("order", {"order": ("lead", "lead", "main")}),
            ("plugs", {}),
            ("accident", {"first": ("0",)}),
        ):
            e = exercise(kind, given(3))
            with self.assertRaises(DomainError) as raised:
                e.judge(wrong)
            self.assertIn(raised.exception.field, [q.id for q in e.task.questions])


class Labels(TestCase):
    def test_read_by_hand(self):
        """Cells, end volts, one C, energy and charge amps by arithmetic of one's own; every other count of
        cells is wrong, too many of them dangerous; so is a decimal point in another place."""
        for e, rules in many("label", 6000):
            cell, mah, series, _ = read(e.task.things[0])
            label_a, rules_a = limits(e.task.things[0], rules)
            right = {
                "series": series,
                "end_v": series * for_chemistry(rules, cell.id).full_v,
                "one_c": mah / 1000,
                "energy_wh": mah / 1000 * series * cell.nominal_v,
                "charge_a": min(label_a, rules_a),
            }
            answers = {q.id: float(right[q.id]) for q in e.task.questions}
            self.assertEqual(e.judge(answers).outcome, "right", (e.task, answers))
            for said in range(1, 15):
                outcome = e.judge({**answers, "series": float(said)}).outcome
                burns = said > series and cell.charge_method == "cc_cv"
                wanted = "right" if said == series else "dangerous" if burns else "wasteful"
                self.assertEqual(outcome, wanted)
            for times, wanted in (
                (10, "dangerous"),
                (1.6, "dangerous"),
                (1.03, "wasteful"),
                (0.1, "wasteful"),
            ):
                self.assertEqual(e.judge({**answers, "one_c": mah / 1000 * times}).outcome, wanted)
            if "charge_a" in answers:
                burns = float(1.5 * label_a)
                for said, wanted in ((burns + 0.01, "dangerous"), (burns - 0.01, "wasteful")):
                    self.assertEqual(e.judge({**answers, "charge_a": said}).outcome, wanted)
            if "end_v" in answers:
                over = series * cell.full_v
                self.assertEqual(e.judge({**answers, "end_v": over * 1.02}).outcome, "dangerous")
                self.assertEqual(e.judge({**answers, "end_v": over * 0.9}).outcome, "wasteful")


class Settings(TestCase):
    def amps(self, e, rules):
        """The amps to set, and those that burn: in fractions, from what is printed."""
        cell, _, series, _ = read(e.task.things[0])
        watts, amps, step = (
            Fraction(x.split()[k]) for x, k in zip(e.task.things[1].lines, (0, 2, 4), strict=True)
        )
        label_a, rules_a = limits(e.task.things[0], rules)
        # watts go by the volts of a charged cell, of NiMH by its peak on the charger
        top = Fraction(str(cell.full_v if cell.charge_method == "cc_cv" else NIMH_CHARGING_V))
        gives = min(amps, watts / (series * top))
        return min(label_a, rules_a, gives) // step * step, label_a, gives, step

    def test_every_answer_of_a_grid(self):
        """All programs, cells from 1 to 14, every step of amps: one of each is right, by exact fractions; far
        over what the pack takes, too many cells and another end of charge are dangerous."""
        for e, rules in many("settings", 4000):
            cell, _, series, _ = read(e.task.things[0])
            most, label_a, gives, step = self.amps(e, rules)
            right = self.right(e, rules, float(most))
            self.assertEqual(e.judge(right).outcome, "right", (e.task, right))
            for program in CHEMISTRIES:
                self.assertEqual(
                    e.judge({**right, "program": program}).outcome == "right", program == cell.id
                )
            for said in range(1, 15):
                outcome = e.judge({**right, "series": float(said)}).outcome
                self.assertEqual(outcome == "dangerous", said > series and cell.charge_method == "cc_cv")
                self.assertEqual(outcome == "right", said == series)
            for k in range(1, int(2 * label_a / step) + 2):
                said = k * step
                outcome = e.judge({**right, "amps": float(said)}).outcome
                self.assertEqual(outcome == "right", said == most, (e.task, said))
                burns = min(said, gives) > Fraction(3, 2) * label_a
                self.assertEqual(outcome == "dangerous", burns, (e.task, said, label_a))

    def right(self, e, rules, amps):
        """All of it right: volts by the rules, timer and cut-off as the judge's words have them."""
        cell, _, series, _ = read(e.task.things[0])
        said = {"program": cell.id, "series": float(series), "amps": amps}
        came = {c.question: c.right for c in e.judge({**first_answers(e.task), **said}).came}
        for q in e.task.questions:
            if q.id == "end_v":
                said["end_v"] = series * for_chemistry(rules, cell.id).full_v
            if q.id in ("timer", "cutoff"):
                said[q.id] = came[q.id].split()[0]
        return said

    def test_what_ends_a_charge_that_does_not_end(self):
        """Off and far too much are dangerous, far too little wasteful; a timer is longer than the charge."""
        seen = 0
        for e, rules in many("settings", 4000):
            asked = {q.id for q in e.task.questions}
            if "timer" not in asked:
                continue
            seen += 1
            right = self.right(e, rules, float(self.amps(e, rules)[0]))
            cell, mah, _, _ = read(e.task.things[0])
            hours = mah / 1000 / right["amps"] * 0.6
            self.assertGreater(int(right["timer"]), 60 * hours)
            share = for_chemistry(rules, cell.id).start_soc - for_chemistry(rules, cell.id).landing_soc
            self.assertGreater(int(right["cutoff"]), share * mah)
            self.assertLess(int(right["cutoff"]), 1.45 * mah)
            for guard in ("timer", "cutoff"):
                options = next(q.asks.options for q in e.task.questions if q.id == guard)
                for o in options:
                    outcome = e.judge({**right, guard: o.id}).outcome
                    if o.id == right[guard]:
                        self.assertEqual(outcome, "right")
                    else:
                        over = o.id == "off" or int(o.id) > int(right[guard])
                        self.assertEqual(outcome, "dangerous" if over else "wasteful")
        self.assertGreater(seen, 5)

    def test_the_wrong_program(self):
        """LiPo as LiHV is over full, as LiFePO4 never full; anything lithium as NiMH has no end."""
        e, rules = next((x, r) for x, r in many("settings", 6000) if read(x.task.things[0])[0].id == "lipo")
        rest = self.right(e, rules, float(self.amps(e, rules)[0]))
        came = {p: e.judge({**rest, "program": p}).came[0] for p in CHEMISTRIES}
        self.assertEqual(
            {p: c.outcome for p, c in came.items()},
            {
                "lipo": "right",
                "lihv": "dangerous",
                "liion": "wasteful",
                "semisolid": "wasteful",
                "lifepo4": "wasteful",
                "nimh": "dangerous",
            },
        )
        self.assertRegex(came["lihv"].sentence, r"150 mV a cell over")


class Binding(TestCase):
    def test_the_tightest_by_hand(self):
        """Every limit by its own division: the tightest is right, one as tight too, and no other."""
        seen = set()
        for e, rules in many("binds", 4000):
            cell, _, series, _ = read(e.task.things[0])
            label_a, rules_a = limits(e.task.things[0], rules)
            top = series * Fraction(str(cell.full_v if cell.charge_method == "cc_cv" else NIMH_CHARGING_V))
            sheet = " ".join(e.task.things[1].lines)
            port_w, port_a = (Fraction(re.search(rf"([\d.]+) {u}", sheet)[1]) for u in ("W", "A"))
            ports = Fraction((re.search(r"(\d+) of its", e.task.words) or [0, "1"])[1])
            lead = " ".join(e.task.things[2].lines)
            battery = any(t.name == "the car battery" for t in e.task.things)
            total = re.search(rf"([\d.]+) W in all on {'DC' if battery else 'the mains'}", sheet)
            total_w = Fraction(total[1]) if total else port_w
            amps = {
                "label": label_a,
                "rules": rules_a,
                "port_amps": port_a,
                "port_watts": port_w / top,
                "shared_watts": total_w / ports / top,
                **{f"plug_{p.id}": p.continuous_a for p in PLUGS.values() if p.name in lead},
            }
            if battery:
                amps["supply"] = Fraction(150) * Fraction(85, 100) / ports / top
            least = min(amps.values())
            step = Fraction(re.search(r"steps of ([\d.]+)", sheet)[1])
            for o in e.task.questions[0].asks.options:
                said = {"limit": o.id, "amps": float(least // step * step)}
                outcome = e.judge(said).outcome
                tight = o.id in amps and amps[o.id] == least
                self.assertEqual(outcome == "right", tight, (e.task, o.id, amps))
                seen.add((o.id, outcome))
        rights = {limit for limit, outcome in seen if outcome == "right"}
        self.assertLessEqual({"rules", "port_watts", "shared_watts", "supply"}, rights)


class Orders(TestCase):
    def test_every_order_there_is(self):
        """One is right; dangerous are a live lead with bare bananas, and a start before the settings."""
        for e, _ in many("order", 120):
            ids = [o.id for o in e.task.questions[0].asks.options]
            bare = e.task.things[1].lines[-1] == "output: 4 mm banana"
            right = [x for x in ("place", "set", "lead", "main", "balance", "confirm") if x in ids]
            for order in permutations(ids):
                at = order.index
                burns = bare and at("main") < at("lead")
                burns |= "set" in ids and at("confirm") < at("set")
                wanted = "right" if list(order) == right else "dangerous" if burns else "wasteful"
                self.assertEqual(e.judge({"order": order}).outcome, wanted, (order, bare))


class Plugs(TestCase):
    def test_by_family_and_half(self):
        """It does where the families are one and the halves are not; a look-alike that is forced burns, and
        both wires in one snip are a short."""
        by_name = {p.name: p for p in PLUGS.values()}
        for e, _ in many("plugs", 4000):
            (mine, _), (theirs, half) = (t.lines for t in e.task.things)
            a, b = by_name[mine], by_name[theirs]
            fits = a.id == b.id and (half == "the other half" or a.alike)
            alike = frozenset((a.id, b.id)) in LOOK_ALIKES
            for said in choices(e.task):
                wrong_fit = (said["fits"] == "yes") != fits
                do = said.get("do", "plug" if fits else "adapter")
                harms = (wrong_fit and alike and not fits) or do == "cut" or (do == "force" and not fits)
                right = not wrong_fit and do == ("plug" if fits else "adapter")
                wanted = "dangerous" if harms else "right" if right else "wasteful"
                self.assertEqual(e.judge(said).outcome, wanted, (e.task, said))


class Storage(TestCase):
    def test_by_the_band_of_its_chemistry(self):
        """Above the band down, below it up, within it neither; a low pack that is emptied is damaged. How
        long: what lies between, over the amps."""
        seen = set()
        for e, _ in many("storage", 3000):
            cell, *_ = read(e.task.things[0])
            volts = e.task.things[1].cell_v
            middle, (low, high) = sum(volts) / len(volts), cell.storage_v
            if min(abs(middle - low), abs(middle - high)) < 0.01:
                continue  # to a meter's width
            right = "discharge" if middle > high else "charge" if middle < low else "none"
            seen.add(right)
            for said in choices(e.task):
                found = e.judge(said)
                way = found.came[0].outcome
                self.assertEqual(way == "right", said["way"] == right, (e.task, said))
                self.assertEqual(way == "dangerous", (said["way"], right) == ("discharge", "charge"))
                if "long" in said:
                    self.assertEqual(found.came[1].outcome, "right" if said["long"] == "1" else "wasteful")
        self.assertEqual(seen, {"charge", "discharge", "none"})


class Sharing(TestCase):
    def test_what_may_never_be_joined(self):
        """Other cells, another chemistry, volts apart by more than the house has it: who joins them burns
        something. At the right amps nobody gets more than the sum of what each may have, nor much less."""
        seen = set()
        for e, rules in many("sharing", 400):
            one, other = e.task.things
            kinds = [t.lines[0].split(",")[0] for t in (one, other)]
            apart = max(abs(a - b) for a, b in zip(one.cell_v, other.cell_v, strict=False))
            never = kinds[0] != kinds[1] or apart > rules.parallel_spread_v + 0.0005
            if e.task.questions[0].id == "may":
                yes, no = (e.judge({"may": x}).outcome for x in ("yes", "no"))
                self.assertIn((yes, no), (("right", "wasteful"), ("dangerous", "right")))
            else:
                came = {x["amps"]: e.judge(x).outcome for x in choices(e.task)}
                yes = came["1"]
                self.assertEqual(came["2"], "dangerous")
                self.assertEqual(came["none"], "wasteful" if yes == "right" else "right")
                if yes == "right":
                    self.assertEqual(came["0.5"], "wasteful")
                    self.amps_are_the_sum(e, rules)
            if never:
                self.assertEqual(yes, "dangerous", e.task)
            if not never and apart < 0.005:
                seen.add(yes)
        self.assertIn("right", seen)

    def amps_are_the_sum(self, e, rules):
        """At most what both may have; less where they divide it unevenly."""
        told = next(o.name for o in e.task.questions[0].asks.options if o.id == "1")
        mah = [int(re.search(r"(\d+) mAh", t.lines[0])[1]) for t in e.task.things]
        printed = [re.search(r"charge ([\d.]+)C", t.lines[0]) for t in e.task.things]
        rates = [float(p[1]) if p else 1.0 for p in printed]
        most = min(*rates, rules.charge_c_limit) * sum(mah) / 1000
        self.assertLessEqual(float(told.split()[0]), most + 1e-9)
        self.assertGreater(float(told.split()[0]), 0)

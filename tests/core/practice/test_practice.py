"""Tasks from seeds: exactly the right answers are judged right, by other means than the judge's."""

from fractions import Fraction
from itertools import permutations
from unittest import TestCase

from coldstack.core.cells.chemistry import CHEMISTRIES
from coldstack.core.chain.plugs import LOOK_ALIKES, PLUGS
from coldstack.core.charging.amps import NIMH_CHARGING_V
from coldstack.core.errors import DomainError
from coldstack.core.practice.practice import KINDS, exercise
from coldstack.core.practice.task import LEVELS
from coldstack.core.rules.house_rules import HOUSE_RULES, for_chemistry, house_rules
from tests.thorough import THOROUGH

BY_NAME = {c.name: c for c in CHEMISTRIES.values()}
SCHOOLS = list(HOUSE_RULES.values())


def many(kind, count):
    """Tasks of a kind over all levels and house rules: so many with ``make thorough``, a twentieth else."""
    for seed in range(count if THOROUGH else count // 20):
        rules = SCHOOLS[seed // 3 % len(SCHOOLS)]
        yield exercise(kind, LEVELS[seed % 3], seed, rules), rules


def read(label):
    """Chemistry, mAh, cells and charge C of a printed label, by its words alone."""
    name = label.lines[0].split(" ", 1)[1]
    cell = BY_NAME[name]
    volts = float(label.lines[2].split()[-2])
    c = next((float(x.split()[1].rstrip("C")) for x in label.lines if x.startswith("charge")), None)
    return cell, int(label.lines[1].split()[0]), round(volts / cell.nominal_v), c


class Seeds(TestCase):
    def test_the_same_seed_makes_the_same_task(self):
        """And another seed another; of every kind and level, with a unit or a name at everything asked."""
        for kind in KINDS:
            for level in LEVELS:
                one, again, other = (exercise(kind, level, s, house_rules("steady")).task for s in (7, 7, 8))
                self.assertEqual(one, again)
                self.assertNotEqual(one, other)
                self.assertTrue(all(q.words.endswith("?") for q in one.questions))
        with self.assertRaises(DomainError):
            exercise("juggling", "expert", 1, house_rules("steady"))

    def test_what_is_no_answer(self):
        """Is told at its question: nothing, words for a number, a choice that is not there, half an order."""
        for kind, wrong in (
            ("label", {"series": "three"}),
            ("settings", {"program": "nicd", "series": 3.0, "amps": 1.0}),
            ("settings", {"program": "lipo", "series": True, "amps": 1.0}),
            ("order", {"order": ("lead",)}),
            ("order", {"order": ("lead", "lead", "main")}),
            ("plugs", {}),
        ):
            e = exercise(kind, "first_day", 3, house_rules("steady"))
            with self.assertRaises(DomainError) as raised:
                e.judge(wrong)
            self.assertIn(raised.exception.field, [q.id for q in e.task.questions])


class Labels(TestCase):
    def test_read_by_hand(self):
        """Cells, end volts, one C and energy by arithmetic of one's own; every other count of cells is wrong,
        too many of them dangerous."""
        for e, rules in many("label", 6000):
            cell, mah, series, _ = read(e.task.things[0])
            end_v = series * (
                cell.full_v if rules.full_cell_v == 4.2 else for_chemistry(rules, cell.id).full_v
            )
            energy = mah / 1000 * series * cell.nominal_v
            right = {"series": series, "end_v": end_v, "one_c": mah / 1000, "energy_wh": energy}
            answers = {q.id: float(right[q.id]) for q in e.task.questions}
            self.assertEqual(e.judge(answers).outcome, "right", (e.task, answers))
            for said in range(1, 15):
                outcome = e.judge({**answers, "series": float(said)}).outcome
                wanted = "right" if said == series else "dangerous" if said > series else "wasteful"
                self.assertEqual(outcome, wanted)
            for off, wanted in ((1.03, "dangerous"), (0.97, "wasteful")):
                self.assertEqual(e.judge({**answers, "one_c": mah / 1000 * off}).outcome, wanted)


class Settings(TestCase):
    def test_every_answer_of_a_grid(self):
        """All programs, cells from 1 to 14, every step of amps: one of each is right, by exact fractions; far
        over what the pack takes, too many cells and another end of charge are dangerous."""
        for e, rules in many("settings", 6000):
            cell, mah, series, label_c = read(e.task.things[0])
            watts, amps, step = (
                Fraction(x.split()[k]) for x, k in zip(e.task.things[1].lines, (0, 2, 4), strict=True)
            )
            ah = Fraction(mah, 1000)
            own = min(Fraction(str(rules.charge_c_limit)), Fraction(str(label_c or cell.usual_charge_c))) * ah
            # watts go by the volts of a charged cell, of NiMH by its peak on the charger
            top = Fraction(str(cell.full_v if cell.charge_method == "cc_cv" else NIMH_CHARGING_V))
            most = min(own, amps, watts / (series * top))
            right = {"program": cell.id, "series": float(series), "amps": float(most // step * step)}
            self.assertEqual(e.judge(right).outcome, "right", (e.task, right))
            for program in CHEMISTRIES:
                self.assertEqual(
                    e.judge({**right, "program": program}).outcome == "right", program == cell.id
                )
            for said in range(1, 15):
                outcome = e.judge({**right, "series": float(said)}).outcome
                self.assertEqual(outcome == "dangerous", said > series)
                self.assertEqual(outcome == "right", said == series)
            for k in range(1, int(2 * own / step) + 2):
                said = k * step
                outcome = e.judge({**right, "amps": float(said)}).outcome
                self.assertEqual(outcome == "right", said == most // step * step, (e.task, said))
                self.assertEqual(outcome == "dangerous", said > own, (e.task, said, own))

    def test_the_wrong_program(self):
        """LiPo as LiHV is over full, as LiFePO4 never full; anything lithium as NiMH has no end."""
        e = next(x for x, r in many("settings", 6000) if read(x.task.things[0])[0].id == "lipo")
        _, _, series, _ = read(e.task.things[0])
        rest = {"series": float(series), "amps": 0.1}
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
        self.assertRegex(came["lihv"].sentence, r"\d+ mV a cell over")


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
        """It does where the families are one and the halves are not; a look-alike that is forced burns."""
        by_name = {p.name: p for p in PLUGS.values()}
        for e, _ in many("plugs", 6000):
            (mine, _), (theirs, half) = (t.lines for t in e.task.things)
            a, b = by_name[mine], by_name[theirs]
            fits = a.id == b.id and (half == "the other half" or a.alike)
            self.assertEqual(e.judge({"fits": "yes" if fits else "no"}).outcome, "right", e.task)
            wrong = e.judge({"fits": "no" if fits else "yes"}).outcome
            alike = frozenset((a.id, b.id)) in LOOK_ALIKES
            self.assertEqual(wrong, "dangerous" if alike and not fits else "wasteful")


class Storage(TestCase):
    def test_by_the_band_of_its_chemistry(self):
        """Above the band down, below it up, within it neither; a low pack that is emptied is damaged."""
        seen = set()
        for e, _ in many("storage", 3000):
            cell, *_ = read(e.task.things[0])
            volts = [float(v) for v in e.task.things[1].lines[0].split()]
            middle, (low, high) = sum(volts) / len(volts), cell.storage_v
            if min(abs(middle - low), abs(middle - high)) < 0.01:
                continue  # to a meter's width
            right = "discharge" if middle > high else "charge" if middle < low else "none"
            seen.add(right)
            for said in ("charge", "discharge", "none"):
                outcome = e.judge({"way": said}).outcome
                self.assertEqual(outcome == "right", said == right, (e.task, said))
                self.assertEqual(outcome == "dangerous", (said, right) == ("discharge", "charge"))
        self.assertEqual(seen, {"charge", "discharge", "none"})


class Sharing(TestCase):
    def test_what_may_never_be_joined(self):
        """Other cells, another chemistry, volts apart by more than the house has it: who says that they may
        burns something."""
        seen = set()
        for e, _ in many("sharing", 400):
            (first, v1), (second, v2) = (t.lines for t in e.task.things)
            unlike = first.split(",")[0] != second.split(",")[0]
            apart = max(abs(float(a) - float(b)) for a, b in zip(v1.split(), v2.split(), strict=False))
            yes, no = (e.judge({"may": x}).outcome for x in ("yes", "no"))
            self.assertIn((yes, no), (("right", "wasteful"), ("dangerous", "right")))
            if unlike or apart > 0.2:
                self.assertEqual(yes, "dangerous", e.task)
            if not unlike and apart < 0.005:
                seen.add(yes)
        self.assertIn("right", seen)

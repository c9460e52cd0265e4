"""Every chain that can be offered, as a circuit: plus meets plus, no step shorts anything, what is drawn as
live is live; and what is struck out fails by exactly that."""

from itertools import product
from unittest import TestCase

from coldstack.core.chain.adapters import Adapter, BalanceAdapter, Path, made_adapter, paths
from coldstack.core.chain.plugs import PLUGS, PlugEnd
from coldstack.core.charging.amps import Feed
from coldstack.core.charging.steps import charge_steps, unplug_steps
from coldstack.core.draw.motion import MOTIONS
from coldstack.core.drawings.circuit import Cell, Circuit, Half, Mated, Wire, state_of
from coldstack.core.drawings.forbidden import balance_before_main, pack_reversed, series_lead_on_a_board
from coldstack.core.drawings.in_model import acts_in_model, laid_in_model
from coldstack.core.drawings.on_charger import ChargeLaid, OnBoard, charge_wiring
from coldstack.core.drawings.strip import Act, strip_of
from coldstack.core.matching.charge import Bench, charge_fit
from coldstack.core.rules.house_rules import house_rules
from coldstack.core.trial.job import Electronics
from tests.core.charging.gear import DC, SMALL_SUPPLY, charger, lead, pack
from tests.core.drawings.referee import SHORT_A, has_volts, solved

STEADY = house_rules("steady")
ELECTRONICS = Electronics(max_v=60)
FED = Mated("supply.feed", "charger.feed")
BOARDED = ("xt60", "xt90", "ec3", "t_plug")


def board(family, **changes):
    """A board of six sockets."""
    figures = {
        "kind": "board",
        "sockets": 6,
        "balance_from": ("xh",),
        "balance_out": "xh",
        "balance_cells": 6,
        **changes,
    }
    return Adapter(
        f"board-{family}", "board", (PlugEnd(family, "device"), PlugEnd(family, "pack")), **figures
    )


def into_models():
    """Each plug on a pack into each on a model, alone and two by two: (circuit, joined, what to do)."""
    for mine, theirs, two in product(PLUGS, PLUGS, ("", "series", "parallel")):
        end, goal = PlugEnd(mine), PlugEnd(theirs, "device")
        direct = paths(end, goal, ())
        way = direct[0] if direct else Path((made_adapter(end, goal),), (mine, theirs))
        bench, joined = laid_in_model(
            pack(series=3, plug=mine),
            end=end,
            goal=goal,
            way=way,
            two=two,
            awg=12,
            model="m",
            electronics=ELECTRONICS,
        )
        yield bench, joined, *acts_in_model(bench, joined, MOTIONS["level_flight"])


def on_chargers():
    """Each plug on a pack of one to six cells on each charger's output, through leads that are owned."""
    for mine, out, series in product(PLUGS, ("banana_4", "xt60", "xt90", "ec3", "bullet_4"), range(1, 7)):
        p, c = pack(series=series, plug=mine), charger(output_plug=out)
        link = Adapter("l", "lead", (PlugEnd(mine, "device"), PlugEnd(out, "pack")), kind="lead")
        fit = charge_fit(p, c, rules=STEADY, feed=DC, bench=Bench((link,)))
        if fit.possible:
            yield fit, None


def on_boards():
    """Two to six packs on each board, with plugs of its own and others, on a charger of bananas."""
    for family, mine, n, series in product(BOARDED, PLUGS, range(2, 7), (2, 4, 6)):
        if mine == "integrated":
            continue
        b = board(family)
        end, socket = PlugEnd(mine), b.ends[0]
        direct = paths(end, socket, ())
        way = direct[0] if direct else Path((made_adapter(end, socket),), (mine, family))
        one = pack(series=series, plug=mine)
        together = pack(series=series, plug=family, capacity_ah=5.0 * n)
        fit = charge_fit(
            together,
            charger(port_a=60.0, port_w=2000.0, dc_w=2000.0),
            rules=STEADY,
            feed=DC,
            bench=Bench((lead(family),)),
        )
        if fit.possible:
            yield fit, OnBoard(b, (one,) * n, (way,) * n)


def bench_steps(fit, on):
    """The steps as the bench asks for them."""
    n = len(on.packs) if on else 0
    pieces = fit.path.pieces
    common = {"series": fit.pack.series, "on_board": n}
    in_words = charge_steps(
        chemistry_id="lipo",
        program="charge",
        current_a=1,
        end_v=None,
        lead="the lead" if pieces else "",
        **common,
    )
    return in_words, unplug_steps(**common)


class EveryChain(TestCase):
    def judged(self, bench, steps):
        """No fault at any step, but the one that no order spares: the other branch of a lead of bullets is
        live once one pack is in; its step says so."""
        for step in steps:
            told = "bare and live" in step.why or step.id == "pack_out"
            faults = [
                f for f in step.faults if not (told and f.kind == "bare" and bench.part("parallel_lead"))
            ]
            self.assertEqual(faults, [], (step.id, step.joined))

    def test_into_models(self):
        """Every pair of plugs, one pack or two: plus on plus, their volts, no fault on the way."""
        count = 0
        for bench, joined, plug, pull in into_models():
            circuit = bench.circuit
            self.judged(bench, strip_of(circuit, plug))
            self.judged(bench, strip_of(circuit, pull, begun=joined))
            volts = state_of(circuit, joined).between("model.main:plus", "model.main:minus")
            self.assertAlmostEqual(volts, 3 * 4.2 * (2 if bench.part("series_lead") else 1))
            count += 1
        self.assertEqual(count, 3 * len(PLUGS) ** 2)

    def test_on_chargers_and_boards(self):
        """With the models over 5,000: a charger sees the pack the right way round, its balance port each cell
        in its place."""
        count = 0
        for fit, on in (*on_chargers(), *on_boards()):
            ins, outs = bench_steps(fit, on)
            w = charge_wiring(fit, plug_in=ins, pull_out=outs, on_board=on)
            bench = ChargeLaid(fit, on).bench
            circuit = bench.circuit
            self.judged(bench, (*w.plug_in, *w.pull_out))
            self.assertEqual(w.plug_in[-1].joined, w.joined)
            self.assertEqual(w.pull_out[-1].joined, (FED,))
            found = state_of(circuit, w.joined)
            volts = 3.7 * fit.pack.series
            self.assertAlmostEqual(found.between("charger.out:plus", "charger.out:minus"), volts)
            if fit.pack.series > 1:
                for k in range(1, fit.pack.series + 1):
                    tap = found.between(f"charger.balance:tap {k}", f"charger.balance:tap {k - 1}")
                    self.assertAlmostEqual(tap, 3.7)
            count += 1
        self.assertGreater(count + 3 * len(PLUGS) ** 2, 5000)

    def test_some_of_them_by_nodal_analysis(self):
        """A second judge, with resistors and a linear solver, sees no rush at any step and the same plugs
        live."""
        some = [(b.circuit, strip_of(b.circuit, plug)) for b, _, plug, _ in list(into_models())[::61]]
        for fit, on in [*list(on_chargers())[::41], *list(on_boards())[::97]]:
            ins, outs = bench_steps(fit, on)
            w = charge_wiring(fit, plug_in=ins, pull_out=outs, on_board=on)
            some.append((ChargeLaid(fit, on).bench.circuit, [*w.plug_in, *w.pull_out]))
        self.assertGreater(len(some), 60)
        for circuit, steps in some:
            for step in steps:
                self.assertLess(solved(circuit, step.joined)[1], 1.0)
                plugged = {h for m in step.joined for h in (m.a, m.b)}
                live = {h for h in circuit.halves if h not in plugged and has_volts(circuit, step.joined, h)}
                self.assertEqual(set(step.live), live)


class Balance(TestCase):
    """How the balance wires get to a port, by each way that there is."""

    def drawn(self, balance, *, families=("xh", "eh"), pieces=(), **more):
        """A 3S pack with this balance plug; its wiring, and its circuit in the end."""
        c = charger(balance_families=families, **more)
        p = pack(series=3, balance_plug=balance)
        fit = charge_fit(p, c, rules=STEADY, feed=DC, bench=Bench((lead(),), balance=pieces))
        self.assertTrue(fit.possible, fit.refusals)
        common = {"series": 3, "by_balance": c.by_balance}
        known = {"chemistry_id": "lipo", "program": "charge", "current_a": 1, "end_v": None}
        w = charge_wiring(fit, plug_in=charge_steps(**known, **common), pull_out=unplug_steps(**common))
        circuit = ChargeLaid(fit, None).bench.circuit
        self.assertEqual([f for s in (*w.plug_in, *w.pull_out) for f in s.faults], [])
        found = state_of(circuit, w.joined)
        self.assertAlmostEqual(found.between("charger.balance:tap 3", "charger.balance:tap 0"), 3 * 3.7)
        return w

    def test_into_the_port_of_its_family(self):
        """The second of two ports, drawn as what it is."""
        w = self.drawn("eh")
        self.assertIn("by EH balance plug", w.sentence)
        self.assertNotIn("XH", w.sentence)

    def test_by_an_adapter(self):
        """Between pack and port, by its name."""
        w = self.drawn("eh", families=("xh",), pieces=(BalanceAdapter("b", "EH to XH", "eh", "xh", 6),))
        self.assertIn("EH to XH", [p.name for p in w.parts])
        self.assertEqual(w.plug_in[-1].live, ())

    def test_where_it_carries_all_of_the_charge(self):
        """No main plug is drawn into the charger, and the pack's stays live: said at its step."""
        w = self.drawn("xh", by_balance=True, port_a=2.0, series_min=2)
        self.assertEqual([m.b for m in w.joined if m != FED], ["pack 0.balance"])
        self.assertEqual(w.plug_in[-1].live, ("pack 0.main",))

    def test_through_a_splitter(self):
        """Wires that run in the main plug meet the splitter’s with it; each cell is read in its place."""
        ends = PlugEnd("integrated", "device"), PlugEnd("xt60")
        takes = {"balance_from": ("integrated",), "balance_out": "xh", "balance_cells": 4}
        splitter = Adapter("s", "splitter", ends, kind="splitter", **takes)
        p = pack(series=3, plug="integrated", balance_plug="integrated")
        fit = charge_fit(
            p,
            charger(output_plug="xt60"),
            rules=STEADY,
            feed=DC,
            bench=Bench((splitter,)),
        )
        self.assertTrue(fit.possible, fit.refusals)
        ins, outs = bench_steps(fit, None)
        w = charge_wiring(fit, plug_in=ins, pull_out=outs)
        self.assertEqual([f for s in (*w.plug_in, *w.pull_out) for f in s.faults], [])
        found = state_of(ChargeLaid(fit, None).bench.circuit, w.joined)
        for k in range(3):
            tap = found.between(f"charger.balance:tap {k + 1}", f"charger.balance:tap {k}")
            self.assertAlmostEqual(tap, 3.7)
        self.assertIn("splitter into 6S 5000 by the balance wires in its main plug", w.sentence)

    def test_pulled_out_nothing_is_left(self):
        """But what feeds the charger."""
        w = self.drawn("xh")
        self.assertEqual((w.plug_in[0].joined, w.pull_out[-1].joined), ((FED,), (FED,)))


class Fed(TestCase):
    """What feeds a charger is drawn with its volts, by its name, or as what nobody named."""

    def supply(self, feed, **changes):
        fit = charge_fit(pack(), charger(**changes), rules=STEADY, feed=feed, bench=Bench((lead(),)))
        made = ChargeLaid(fit, None)
        state = state_of(made.bench.circuit, made.fed)
        return made.bench.part("supply"), state.between("charger.feed:plus", "charger.feed:minus")

    def test_by_what(self):
        """A supply of 13.8 V, the mains, and one that nobody named."""
        part, volts = self.supply(Feed("dc", SMALL_SUPPLY, 1))
        self.assertEqual((part.name, part.detail, volts), ("small supply", "13.8 V, 80 W", 13.8))
        part, volts = self.supply(Feed("mains", None, 1), mains_w=60.0)
        self.assertEqual((part.name, part.plugs[0].name, volts), ("the mains", "mains lead", None))
        self.assertEqual(self.supply(DC)[0].name, "a DC supply")

    def test_crossed_it_is_plus_on_minus(self):
        """Its leads end in clips or bananas as often as not: seen by the same test as a pack."""
        fit = charge_fit(
            pack(), charger(), rules=STEADY, feed=Feed("dc", SMALL_SUPPLY, 1), bench=Bench((lead(),))
        )
        made = ChargeLaid(fit, None)
        crossed = [Mated("supply.feed", "charger.feed", crossed=True)]
        faults = state_of(made.bench.circuit, crossed).faults
        self.assertEqual([(f.kind, f.where) for f in faults], [("reversed", ("charger.feed",))])


class Strings(TestCase):
    def test_cells_side_by_side(self):
        """3S4P is twelve cells, of three places; its volts are those of three, and it is no fault."""
        bench, joined = laid_in_model(
            pack(series=3, parallel=4),
            end=PlugEnd("xt60"),
            goal=PlugEnd("xt60", "device"),
            way=Path((), ("xt60",)),
            two="",
            awg=12,
            model="m",
            electronics=ELECTRONICS,
        )
        drawn, state = bench.part("pack"), state_of(bench.circuit, joined)
        self.assertEqual((drawn.cells, drawn.strings, len(bench.circuit.cells)), (3, 4, 12))
        self.assertIn("3S4P", drawn.detail)
        self.assertEqual(state.faults, ())
        self.assertAlmostEqual(state.between("model.main:plus", "model.main:minus"), 12.6)


class StruckOut(TestCase):
    def test_each_fails_by_its_own_fault(self):
        """On every board, for one to six cells: by what its picture says, and by nothing else."""
        for family, series in product(BOARDED, range(1, 7)):
            b, known = board(family), {"cell_v": 3.7, "series": series, "awg": 14}
            self.assertEqual(series_lead_on_a_board(b, **known).fault, "short")
            self.assertEqual(pack_reversed(b, **known).fault, "short")
            self.assertEqual(balance_before_main(b, **known).fault, "thin")

    def test_a_short_by_nodal_analysis(self):
        """Hundreds of amps by the second judge too."""
        end = PlugEnd("xt60")
        bench, joined = laid_in_model(
            pack(series=3),
            end=end,
            goal=PlugEnd("xt60", "device"),
            way=Path((), ("xt60",)),
            two="parallel",
            awg=12,
            model="m",
            electronics=ELECTRONICS,
        )
        crossed = [Mated(joined[0].a, joined[0].b, crossed=True), *joined[1:]]
        self.assertEqual({f.kind for f in state_of(bench.circuit, crossed).faults}, {"short"})
        self.assertGreater(solved(bench.circuit, crossed)[1], SHORT_A)

    def test_one_pack_with_plus_on_minus(self):
        """No short, but the model would burn."""
        bench, joined = laid_in_model(
            pack(series=3),
            end=PlugEnd("bullet_4"),
            goal=PlugEnd("bullet_4", "device"),
            way=Path((), ("bullet_4",)),
            two="",
            awg=12,
            model="m",
            electronics=ELECTRONICS,
        )
        crossed = [Mated(joined[0].a, joined[0].b, crossed=True)]
        faults = state_of(bench.circuit, crossed).faults
        self.assertEqual([(f.kind, f.where) for f in faults], [("reversed", ("model.main",))])

    def test_the_lead_into_the_pack_first(self):
        """Its bananas hang loose, live and bare; the charger first, and they never do."""
        fit = next(
            f for f, _ in on_chargers() if f.charger.output_plug == "banana_4" and f.pack.plug == "xt60"
        )
        ins, outs = bench_steps(fit, None)
        found = charge_wiring(fit, plug_in=ins, pull_out=outs).forbidden
        self.assertEqual([(f.id, f.fault) for f in found], [("lead_last", "bare")])

    def test_pulled_in_the_wrong_order(self):
        """The lead out of the charger while the pack is in: its step has the fault."""
        fit = next(
            f for f, _ in on_chargers() if f.charger.output_plug == "banana_4" and f.pack.plug == "xt60"
        )
        made = ChargeLaid(fit, None)
        for pull, faults in ((made.lead, ["bare"]), (made.main, [])):
            wrong = Act("out", "", pull=tuple(pull))
            step = strip_of(made.bench.circuit, [wrong], begun=made.joined)[0]
            self.assertEqual([f.kind for f in step.faults], faults)

    def test_packs_of_other_cell_counts(self):
        """Three cells beside four on one pair of rails is a short."""
        cells = [
            *(Cell(f"a{k}", f"a{k + 1}", 3.7, "a") for k in range(3)),
            *(Cell(f"b{k}", f"b{k + 1}", 3.7, "b") for k in range(4)),
        ]
        circuit = Circuit(tuple(cells), (Wire("a0", "b0"), Wire("a3", "b4")))
        faults = state_of(circuit, ()).faults
        self.assertEqual([(f.kind, f.where) for f in faults], [("short", ("a", "b"))])
        near = Circuit(
            tuple(cells[:3]) + tuple(Cell(f"b{k}", f"b{k + 1}", 3.8, "b") for k in range(3)),
            (Wire("a0", "b0"), Wire("a3", "b3")),
        )
        self.assertEqual(state_of(near, ()).faults, ())


class Turning(TestCase):
    def test_what_may_turn_is_clear_first(self):
        """A boat has a screw, a car wheels; equipment is switched off, and has no throttle."""
        bench, joined, *_ = next(iter(into_models()))
        for motion, word in (("hull", "screw"), ("wheels", "wheels"), ("hover", "rotors")):
            plug, pull = acts_in_model(bench, joined, MOTIONS[motion])
            self.assertIn(word, plug[0].sentence)
            self.assertIn("hrottle", pull[0].sentence)
        plug, pull = acts_in_model(bench, joined, MOTIONS["steady_load"])
        self.assertEqual((plug[0].sentence, pull[0].sentence), ("Switch it off.", "Switch it off."))


class Live(TestCase):
    def test_at_the_boundary(self):
        """Half a volt between two contacts is live; a little less, or one contact alone, is not."""
        half = Half("h", (("plus", "p"), ("minus", "m")))
        for volts, live in ((0.5, True), (0.49, False)):
            c = Circuit((Cell("m", "p", volts, "a"),), (), {"h": half})
            self.assertEqual("h" in state_of(c, ()).live, live)
        one = Circuit((Cell("x", "p", 4.0, "a"),), (), {"h": half})
        self.assertEqual(state_of(one, ()).live, frozenset())

"""The simulated charger: its protocol, its own refusals, its cells, and each fault alarmed in time by the
core's watch."""

import json
import socket

from django.test import SimpleTestCase

from coldstack.core.watching.expected import Expected
from coldstack.core.watching.judging import ALARM_WITHIN_S, alarms
from coldstack.core.watching.samples import Sample
from coldstack.server.devices.line_protocol import asked
from coldstack.standins import charger as standin
from coldstack.standins import checker
from coldstack.standins.charger import SimulatedCharger
from coldstack.standins.lines import LineServer, Refusal

CELL = {"capacity_ah": 3.7, "resistance_mohm": 3.0, "soc": 0.2}
ORDER = {
    "do": "start",
    "port": 1,
    "chemistry": "lipo",
    "program": "balance",
    "cells": 4,
    "current_a": 3.7,
    "end_cell_v": 4.2,
    "timer_s": 7000,
    "cutoff_mah": 4500,
}


def plugged(*socs, faults=None):
    made = SimulatedCharger("Four", 4, ("lipo", "nimh"))
    made.answer(
        {
            "do": "plug",
            "port": 1,
            "pack": {
                "chemistry": "lipo",
                "mass_g": 309,
                "cells": [{**CELL, "soc": s} for s in socs or (0.2,) * 4],
                "faults": faults or {},
            },
        }
    )
    return made


def charged(made, seconds=8000, **order):
    run = made.answer({**ORDER, **order})["run"]
    made.pass_time(seconds)
    return made.answer({"do": "samples", "port": 1, "run": run, "after": 0}), run


def sample(s):
    """A report's sample as the watch takes it."""
    return Sample(
        s["seq"], s["time_s"], tuple(s["cell_v"]), s["current_a"], s["temperature_c"], s["mah"], s["supply_v"]
    )


class Charging(SimpleTestCase):
    def test_a_whole_charge(self):
        """Full at 4.20 V, even, about what was missing put in, and the resistance read after a minute."""
        report, run = charged(plugged())
        self.assertEqual((report["state"], report["ended"]), ("done", "full"))
        made = plugged()
        run = made.answer(ORDER)["run"]
        made.pass_time(8000)
        last = made.answer({"do": "samples", "port": 1, "run": run, "after": 480})["samples"][-1]
        self.assertTrue(all(4.18 <= v <= 4.21 for v in last["cell_v"]))
        self.assertAlmostEqual(last["mah"], 0.8 * 3700, delta=80)
        read = [s for s in report["samples"] if s["cell_mohm"]]
        self.assertEqual([s["time_s"] for s in read], [60.0])
        self.assertTrue(all(2.5 < r < 4.5 for r in read[0]["cell_mohm"]))

    def test_samples_are_numbered_without_a_gap(self):
        """And asking after a number gives what comes after it."""
        made = plugged()
        run = made.answer(ORDER)["run"]
        made.pass_time(100)
        numbers = [
            s["seq"] for s in made.answer({"do": "samples", "port": 1, "run": run, "after": 7})["samples"]
        ]
        self.assertEqual(numbers, list(range(8, 8 + len(numbers))))

    def test_its_own_bounds(self):
        """Timer and capacity cut-off end it, whatever the program does."""
        self.assertIn("timer", charged(plugged(), timer_s=300)[0]["ended"])
        self.assertIn("cut-off", charged(plugged(), cutoff_mah=100)[0]["ended"])

    def test_refusals(self):
        """No pack, another count, a chemistry it has not, volts above full, a busy port, too many cells."""
        made = plugged()
        for order, words in (
            ({"port": 2}, "no pack"),
            ({"cells": 3}, "4 are found"),
            ({"chemistry": "lifepo4"}, "no program"),
            ({"end_cell_v": 4.3}, "above"),
            ({"cells": 8}, "ends at 6"),
            ({"port": 9}, "ports 1 to 4"),
        ):
            with self.subTest(words), self.assertRaisesRegex(Refusal, words):
                made.answer({**ORDER, **order})
        made.answer(ORDER)
        with self.assertRaisesRegex(Refusal, "already"):
            made.answer(ORDER)
        with self.assertRaisesRegex(Refusal, "3 are found"):
            plugged(faults={"wrong_count": 0}).answer(ORDER)


class Faults(SimpleTestCase):
    def within(self, fault, alarm, cell=3):
        """Seconds of the charge from the fault to its alarm, and the alarm."""
        made = plugged()
        run = made.answer(ORDER)["run"]
        expected = Expected("lipo", 4, 3.7, 3.7, 4.2, 7000.0, 4500.0, 1200.0, 11.0)
        made.pass_time(300)
        made.answer({"do": "fault", "port": 1, "fault": fault, "cell": cell})
        for waited in range(5, 2000, 5):
            made.pass_time(5)
            rows = made.answer({"do": "samples", "port": 1, "run": run, "after": 0})["samples"]
            samples = [sample(s) for s in rows]
            now = samples[-1].time_s
            found = next(
                (a for a in alarms(samples, expected, looked_s=now, now_s=now) if a.id == alarm), None
            )
            if found:
                return waited, found
        raise AssertionError(f"{alarm} was never raised")

    def test_each_fault_in_time(self):
        """Within the seconds that the watch promises; what is dangerous stops it."""
        for fault, alarm, level in (
            ("not_following", "not_following", "stop"),
            ("weak_cell", "weak_cell", "warn"),
            ("warm", "warm", "warn"),
            ("warm", "hot", "stop"),
            ("supply_sag", "supply_sag", "warn"),
        ):
            with self.subTest(alarm):
                waited, found = self.within(fault, alarm)
                self.assertLessEqual(waited, ALARM_WITHIN_S[alarm])
                self.assertEqual(found.level, level)
        self.assertIn("Cell 4", self.within("not_following", "not_following")[1].sentence)

    def test_a_sound_charge_raises_none(self):
        """From start to full, with its meter's noise, even and uneven cells."""
        for socs in ((0.2,) * 4, (0.2, 0.2, 0.1, 0.22)):
            made = plugged(*socs)
            run = made.answer(ORDER)["run"]
            expected = Expected("lipo", 4, 3.7, 3.7, 4.2, 7000.0, 4500.0, 1200.0, 11.0)
            rows = []
            for _ in range(130):
                made.pass_time(60)
                rows += made.answer({"do": "samples", "port": 1, "run": run, "after": len(rows)})["samples"]
                samples = [sample(s) for s in rows]
                now = samples[-1].time_s
                self.assertEqual(alarms([samples[0], *samples[-60:]], expected, looked_s=now, now_s=now), [])

    def test_plain_charging_of_a_weak_pack_is_stopped(self):
        """One cell far behind: the watch stops it within two samples of the others passing full."""
        made = plugged(0.2, 0.2, 0.05, 0.2)
        run = made.answer({**ORDER, "program": "plain"})["run"]
        expected = Expected("lipo", 4, 3.7, 3.7, 4.2, 7000.0, 4500.0, 1200.0, 11.0)
        samples, over_since = [], None
        while made.ports[0].state == "charging":
            made.pass_time(5)
            rows = made.answer({"do": "samples", "port": 1, "run": run, "after": len(samples)})["samples"]
            samples += [sample(s) for s in rows]
            now = samples[-1].time_s
            if over_since is None and max(samples[-1].cell_v) > 4.23:
                over_since = now
            found = alarms(samples, expected, looked_s=now, now_s=now)
            if found:
                self.assertEqual((found[0].id, found[0].level), ("over_full", "stop"))
                self.assertLessEqual(now - over_since, ALARM_WITHIN_S["over_full"])
                return
        self.fail("it was never stopped")


class Lines(SimpleTestCase):
    def setUp(self):
        self.charger = plugged()
        self.server = standin.serve(self.charger, 0)
        self.addCleanup(self.server.server_close)
        self.addCleanup(self.server.shutdown)

    def said(self, line: bytes):
        with socket.create_connection(("127.0.0.1", self.server.port), 5) as link:
            link.sendall(line)
            return json.loads(link.makefile("rb").readline())

    def test_one_line_each_way(self):
        """With the number that came with the question."""
        reply = self.said(b'{"id": 7, "do": "hello"}\n')
        self.assertEqual((reply["ok"], reply["id"], reply["ports"], reply["protocol"]), (True, 7, 4, 1))

    def test_what_is_not_understood(self):
        """Broken JSON, a list, an unknown verb, a missing field: an answer with words, never a dropped
        line."""
        for line, words in (
            (b"{nonsense\n", "not JSON"),
            (b"[1]\n", "a JSON object"),
            (b'{"do": "fly"}\n', "It can do"),
            (b'{"do": "start"}\n', "not understood"),
            (b'{"do": "detect", "port": "x"}\n', "ports 1 to 4"),
        ):
            with self.subTest(words):
                reply = self.said(line)
                self.assertFalse(reply["ok"])
                self.assertIn(words, reply["why"])

    def test_deaf(self):
        """A lost link hangs up without a word."""
        self.server.deaf = True
        self.assertIsNone(asked(f"127.0.0.1:{self.server.port}", {"do": "hello"}))


class Checker(SimpleTestCase):
    def test_reads(self):
        """As many cells as the pack has, the same each time; a lazy cell shows; a full pack reads full."""
        pack = {"tag": "07", "chemistry": "lipo", "cells": 3}
        first = checker.reading_of(pack)
        self.assertEqual(first, checker.reading_of(pack))
        self.assertEqual(len(first["cell_v"]), 3)
        lazy = checker.reading_of({**pack, "lazy": True})["cell_v"]
        self.assertGreater(max(lazy) - lazy[-1], 0.05)
        self.assertTrue(all(v > 4.1 for v in checker.reading_of({**pack, "soc": 0.99})["cell_v"]))

    def test_refusals_over_the_line(self):
        """Too many cells, another verb."""
        server: LineServer = checker.serve(0)
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        address = f"127.0.0.1:{server.port}"
        self.assertEqual(asked(address, {"do": "hello"})["name"], "Cairn cell checker")
        self.assertIn(
            "1 to 14",
            asked(address, {"do": "read", "pack": {"tag": "1", "chemistry": "lipo", "cells": 20}})["why"],
        )
        self.assertFalse(asked(address, {"do": "charge"})["ok"])

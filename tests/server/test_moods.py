"""Every mood of a charger, in both protocols: an alarm in time; stopped, or loudly not known to have stopped;
and eight good charges beside them that nobody disturbs."""

import json
import tempfile
from dataclasses import asdict
from pathlib import Path
from unittest import mock

from django.test import TestCase, override_settings

from coldstack.core.watching.alarm import PULL_PLUG
from coldstack.core.watching.expected import Expected
from coldstack.server.charges.heartbeat import Heartbeat
from coldstack.server.charges.models import ACTIVE, Alarm, Charge, OnCharger
from coldstack.server.charges.watcher import Watcher
from coldstack.server.gear.models import OwnedPack
from coldstack.standins import csv_charger
from tests.server.moods import AMPS, AT_ONCE, CELLS, MoodyCharger, listening, moods
from tests.thorough import some

TICK_S, BEFORE_S, GOOD = 5.0, 30.0, 8
E = Expected("lipo", CELLS, 3.7, AMPS, 4.2, 9000.0, 4400.0, 1200.0)
PACK = {"chemistry": "lipo", "cells": [{"capacity_ah": 3.7, "resistance_mohm": 3.0, "soc": 0.12}] * CELLS}
ORDER = {"program": "balance", "cells": CELLS, "current_a": AMPS, "end_cell_v": 4.2, "timer_s": 9000.0}


class Table(TestCase):
    """All moods at once, each at a charger of its own."""

    def setUp(self):
        self.seconds = 0.0
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        settings = override_settings(DATA_DIR=self.folder.name)
        settings.enable()
        self.addCleanup(settings.disable)
        self.watcher = Watcher(clock=lambda: self.seconds, beats=Heartbeat(lambda: self.seconds))

    def charging(self, mood, name):
        """A charger that charges a pack, and the charge."""
        charger = MoodyCharger(mood, name)
        order = {**ORDER, "chemistry": "lipo", "cutoff_mah": 4400.0, "port": 1, "run": f"run-{name}"}
        charger.device.answer({"do": "plug", "port": 1, "pack": {**PACK, "mass_g": 380.0}})
        charger.device.answer({"do": "start", **order})
        figures = {"chemistry": "lipo", "series": CELLS, "capacity_ah": 3.7, "mass_g": 380, "plug": "xt60"}
        pack = OwnedPack.objects.create(tag=name, name=name, lead_awg=14, lead_length_mm=100, **figures)
        charge = Charge.objects.create(
            key=f"key-{name}",
            run=f"run-{name}",
            label=name,
            charger_name=name,
            port=1,
            state="charging",
            settings={},
            expected=asdict(E),
        )
        charge.members.add(pack)
        OnCharger.objects.create(pack=pack, charge=charge)
        return charger, charge

    def address(self, server):
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        return f"127.0.0.1:{server.server_address[1]}"

    def all_of_them(self, address_of, share=1):
        """Runs the table, those that only a slope tells for longer; what is wrong with it, a line each."""
        table = moods()
        self.assertGreaterEqual(len(table), 60)
        table = some(table, share)
        self.assertEqual(len({m.name for m in table}), len(table))
        shown = [m for m in table if m.within <= AT_ONCE]
        sloping = [m for m in table if m.within > AT_ONCE]
        return [
            *self.some_of_them("A", shown, address_of, AT_ONCE + 35.0),
            *self.some_of_them("B", sloping, address_of, max(m.within for m in sloping) + 15.0),
        ]

    def some_of_them(self, letter, table, address_of, after_s):
        bad = {m.name: self.charging(m, f"{letter}{k}") for k, m in enumerate(table)}
        good = [self.charging(None, f"{letter}-good-{k}") for k in range(GOOD)]
        everyone = [*bad.values(), *good]
        addresses = {c.name: address_of(c) for c, _ in everyone}
        Path(self.folder.name, "devices.json").write_text(json.dumps({"chargers": addresses}))
        alarmed, wrong = {}, []
        self.go_on(everyone, BEFORE_S)
        self.assertFalse(Alarm.objects.filter(charge__in=[c for _, c in everyone]).exists())
        for charger, _ in bad.values():
            charger.begin()
        begun_s = self.seconds
        while self.seconds < begun_s + after_s:
            self.go_on(everyone, TICK_S)
            for pk in Alarm.objects.values_list("charge_id", flat=True):
                alarmed.setdefault(pk, self.seconds - begun_s)
            states = dict(Charge.objects.values_list("pk", "state"))
            for name, (charger, charge) in bad.items():
                if charger.charges and states[charge.pk] not in ACTIVE:
                    wrong.append(f"{name}: {states[charge.pk]} while current flows")
        wrong += [
            f"{c.label} was disturbed" for _, c in good if c.pk in alarmed or states[c.pk] != "charging"
        ]
        pulled = set(Alarm.objects.filter(kind=PULL_PLUG, over=False).values_list("charge_id", flat=True))
        taken = set(OnCharger.objects.values_list("charge_id", flat=True))
        for mood in table:
            _, charge = bad[mood.name]
            if alarmed.get(charge.pk, 1e9) > mood.within:
                wrong.append(f"{mood.name}: alarmed after {alarmed.get(charge.pk)} s")
            if states[charge.pk] in ACTIVE and not {charge.pk} <= pulled & taken:
                wrong.append(f"{mood.name}: {states[charge.pk]}, and nobody pulls a plug")
        Charge.objects.filter(state__in=ACTIVE).update(state="stopped")  # the next ones begin alone
        return list(dict.fromkeys(wrong))

    def go_on(self, everyone, seconds):
        for _ in range(int(seconds / TICK_S)):
            self.seconds += TICK_S
            for charger, _ in everyone:
                charger.device.pass_time(TICK_S)
            self.watcher.tick()

    def test_line_protocol(self):
        """One JSON object a line."""
        wrong = self.all_of_them(lambda charger: self.address(listening(charger)), share=3)
        self.assertEqual(wrong, [], "\n".join(wrong))

    def test_lines_of_numbers(self):
        """A line of numbers for each port, again and again."""
        here = "coldstack.standins.csv_charger"
        with (
            mock.patch(f"{here}.line_of", lambda charger, number: charger.line(number)),
            mock.patch(f"{here}.answered", lambda charger, command: charger.answered(command)),
            mock.patch(f"{here}.EVERY_S", 0.002),
            mock.patch("coldstack.server.devices.drivers.csv.TIMEOUT_S", 0.7),
        ):
            wrong = self.all_of_them(
                lambda charger: f"csv://{self.address(csv_charger.listen(charger, 0))}", 8
            )
        self.assertEqual(wrong, [], "\n".join(wrong))

"""A charger with another protocol: its driver is one file, and everything else goes on as with any other."""

import json
from pathlib import Path

from coldstack.server.charges.models import Charge
from coldstack.server.devices.asking import charger_device
from coldstack.server.devices.charger import LinkLost, PortNow
from coldstack.standins.csv_charger import answered, line_of
from coldstack.standins.csv_charger import listen as listen_csv
from tests.server.test_charging import ChargingCase


class LinesOfNumbers(ChargingCase):
    def setUp(self):
        super().setUp()
        self.csv = listen_csv(self.device, 0)
        self.addCleanup(self.csv.server_close)
        self.addCleanup(self.csv.shutdown)
        self.link_to(f"csv://127.0.0.1:{self.csv.server_address[1]}")
        cells = [{"capacity_ah": 3.7, "resistance_mohm": 3.0, "soc": 0.2}] * 4
        self.device.answer({"do": "plug", "port": 1, "pack": {"chemistry": "lipo", "cells": cells}})

    def link_to(self, address):
        known = {"chargers": {"Skerry Four": address}}
        Path(self.folder.name, "devices.json").write_text(json.dumps(known))

    def test_charged_watched_and_stopped(self):
        """Set, started, its samples stored, its stop confirmed; the pack knows it."""
        pk = self.started("01", look_every_min=20)
        self.assertEqual(
            (self.device.ports[0].state, self.device.ports[0].run), ("charging", Charge.objects.get().key)
        )
        for _ in range(6):
            self.pass_time(5, every=5)
        found = self.charge(pk)
        self.assertEqual((found["state"], found["simulated"], found["alarms"]), ("charging", False, []))
        self.assertGreater(len(found["trace"]["minutes"]), 3)
        self.assertEqual(len(found["trace"]["cell_v"]), 4)
        self.assertEqual(self.post(f"/api/charges/{pk}/stop", {}).json()["state"], "stopped")
        self.assertEqual((self.device.ports[0].state, self.pack_now("01")["state"]), ("stopped", "spent"))

    def test_what_it_refuses(self):
        """In its words, at the charger's field; and what it does is asked of it."""
        device = charger_device("Skerry Four")
        self.assertEqual(device.hello().ports, 4)
        self.assertEqual(device.ports()[0], PortNow(1, False, ""))
        self.assert_problem(self.begin("31", port=2), 422, "port", "finds no pack")

    def test_unknown_tongues_and_silent_ones(self):
        """No such driver: not linked. Nobody there: it does not answer."""
        self.link_to("morse://127.0.0.1:1")
        self.assertIsNone(charger_device("Skerry Four"))
        self.link_to("../evil://127.0.0.1:1")
        self.assertIsNone(charger_device("Skerry Four"))
        self.link_to("csv://127.0.0.1:1")
        with self.assertRaises(LinkLost):
            charger_device("Skerry Four").hello()

    def test_its_lines(self):
        """Idle, and what it does not know."""
        self.assertEqual(line_of(self.device, 2), "P;2;I;")
        self.assertTrue(answered(self.device, "SING;1").startswith("NO;it knows"))
        self.assertTrue(answered(self.device, "START;1;x").startswith("NO;"))
        self.assertTrue(answered(self.device, "STOP;99").startswith("NO;It has ports"))

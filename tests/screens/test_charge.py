"""The bench as a person uses it: lay out, read, batch, plan, start, watch, stop, log."""

import json
import re
import tempfile
from pathlib import Path
from unittest import mock

from django.test import override_settings
from playwright.sync_api import expect

from coldstack.server.bench import actions as bench_actions
from coldstack.server.bench.schemas import StartIn
from coldstack.server.charges import actions
from coldstack.server.charges.heartbeat import BEATS
from coldstack.server.charges.models import Charge
from coldstack.server.charges.watcher import Watcher
from coldstack.server.gear.models import Charger, OwnedPack
from coldstack.standins import checker
from coldstack.standins.charger import SimulatedCharger, listen
from tests.screens.case import ScreenCase


class BenchScreen(ScreenCase):
    clock_by_hand = True

    def setUp(self):
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        settings = override_settings(DATA_DIR=self.folder.name)
        settings.enable()
        self.addCleanup(settings.disable)
        self.seconds = 0.0
        beats = mock.patch.multiple(BEATS, clock=lambda: self.seconds, _judged={})
        beats.start()
        self.addCleanup(beats.stop)
        super().setUp()

    def link(self, name="Skerry Four", ports=4):
        """A simulated charger and a checker, linked; the charger's time passes while `watch_until` waits."""
        self.device = SimulatedCharger(name, ports, ("lipo", "lihv"))
        servers = [listen(self.device, 0), checker.serve(0)]
        for server in servers:
            self.addCleanup(server.server_close)
            self.addCleanup(server.shutdown)
        known = {
            "chargers": {name: f"127.0.0.1:{servers[0].port}"},
            "checker": f"127.0.0.1:{servers[1].port}",
        }
        Path(self.folder.name, "devices.json").write_text(json.dumps(known))
        self.watcher = Watcher(clock=lambda: self.seconds)

    def bench(self):
        self.open("/charge/ptarmigan")
        self.part("Ports over time").get_by_role("listitem").first.wait_for()

    def part(self, name):
        return self.page.get_by_role("region", name=name)

    def settle(self):
        """What was typed is planned 200 ms later."""
        self.page.clock.run_for(800)
        self.settled()

    def cells(self, tag):
        return self.page.get_by_label(f"Volts of {tag}, cells or pack")

    def line(self, tag):
        return self.part("Packs laid out").get_by_role("listitem").filter(has=self.cells(tag))

    def batches(self):
        """The tags in each batch, as the chips say."""
        cards = self.part("Batches").locator("ol > li")
        return [
            [c.inner_text() for c in card.get_by_role("button", name=re.compile("^Move ")).all()]
            for card in cards.all()
        ]

    def watch_until(self, seen, step_s=20.0, rounds=120):
        """The charger's time passes, the watch looks, and the page is asked what it shows."""
        for _ in range(rounds):
            self.device.pass_time(step_s)
            self.seconds += step_s
            self.watcher.tick()
            self.page.clock.run_for(1100)
            self.settled()
            if seen():
                return
        self.fail(f"it was never seen; {[(c.state, c.ended_why, c.time_s) for c in Charge.objects.all()]}")

    def begin(self, tag, every="10"):
        self.page.get_by_role("button", name=f"Steps for {tag}", exact=True).click()
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_role("button", name="Start charging").wait_for()
        self.assertTrue(sheet.get_by_role("button", name="Start charging").is_disabled())
        for box in sheet.get_by_role("checkbox").all():
            box.check()
        sheet.get_by_role("combobox").select_option(every)
        sheet.get_by_role("button", name="Start charging").click()
        self.page.get_by_role("article", name=f"Charging {tag}").wait_for()

    def begin_beside(self, tag):
        """A second charge, on the charger that is linked, begun by a press elsewhere."""
        body = bench_actions.kept_layout()
        laid = [
            x.model_copy(update={"cells": "3.71 3.72 3.71 3.70"}) if x.pack == f"owned:{tag}" else x
            for x in body.laid
        ]
        body = body.model_copy(update={"laid": laid})
        fed = str(Charger.live.get(name="Skerry Four").pk)
        free = next(p.number for p in self.device.ports if p.state != "charging")
        steps = ["place", "set", "lead", "main", "balance", "confirm"]
        actions.start(
            StartIn(
                bench=body, packs=[f"owned:{tag}"], charger=fed, port=free, steps=steps, look_every_min=10
            )
        )


class LayOut(BenchScreen):
    def test_typed_fast(self):
        """Hundredths in one line, Enter goes on to the next pack; a slip is said at its pack and stays as
        typed."""
        self.bench()
        self.cells("01").fill("371 372 371 370")
        self.page.keyboard.press("Enter")
        expect(self.cells("02")).to_be_focused()
        self.cells("13").fill("3.71 three")
        self.settle()
        self.line("13").get_by_text("“three” is no voltage").wait_for()
        self.assertEqual(self.cells("13").input_value(), "3.71 three")
        self.cells("13").fill("3.71 3.72 3.73")
        self.settle()
        self.line("13").get_by_text("2 cells in series; 3 readings were given").wait_for()
        self.assertNotIn(["13"], self.batches())

    def test_kept_and_undone(self):
        """A reload brings it back; undo takes the last step back."""
        self.bench()
        self.line("13").get_by_role("button", name="Put away 13").click()
        self.settle()
        self.assertEqual(self.cells("13").count(), 0)
        self.page.reload()
        self.settled()
        self.assertEqual(self.cells("13").count(), 0)
        self.page.get_by_role("combobox", name="Lay out a pack").fill("13")
        self.page.keyboard.press("Enter")
        self.settle()
        self.cells("13").wait_for()
        self.page.get_by_role("button", name="Undo: Laid out 13").click()
        self.settle()
        self.assertEqual(self.cells("13").count(), 0)

    def test_the_checker_reads(self):
        """The one unread pack, by the linked checker; and in no batch until somebody looked at it."""
        self.link()
        self.bench()
        self.page.get_by_role("button", name="Read 1 with the checker").click()
        self.line("14").get_by_role("button", name="Read again").wait_for()
        self.settle()
        self.assertRegex(self.cells("14").input_value(), r"^3\.\d{3} 3\.\d{3}$")
        self.assertNotIn(["14"], self.batches())
        self.line("14").get_by_role("button", name="Looked and felt: sound, cool").click()
        self.page.get_by_role("status", name="Messages").get_by_text("14: sound").wait_for()
        self.settle()
        self.part("Batches").get_by_role("button", name="Move 14").wait_for()

    def test_a_swollen_pack(self):
        """Ticked: it leaves its batch, is offered its retirement, and that can be undone."""
        self.bench()
        line = self.line("31")
        line.get_by_role("button", name="Signs").click()
        line.get_by_label("Swollen or soft").click()
        self.settle()
        line.get_by_text("It is not charged again; retire it").wait_for()
        self.assertNotIn("31", str(self.batches()))
        line.get_by_role("button", name="Take 31 out of use").click()
        self.page.get_by_role("status", name="Messages").get_by_text("Took pack 31 out of use").wait_for()
        self.assertFalse(OwnedPack.live.get(tag="31").fit)
        self.page.get_by_role("status", name="Messages").get_by_role("button", name="Undo").click()
        self.page.get_by_text("Undone: Took pack 31").wait_for()
        self.assertTrue(OwnedPack.live.get(tag="31").fit)

    def test_an_empty_bench(self):
        """It offers the next real step."""
        self.bench()
        self.commands()
        self.page.get_by_role("combobox", name="Find or do").fill("clear the bench")
        self.page.keyboard.press("Enter")
        self.settle()
        self.page.get_by_text("Lay out the packs that you want to charge").wait_for()
        self.part("Packs laid out").get_by_text("Nothing lies on the bench").wait_for()
        self.assert_accessible()


class Batches(BenchScreen):
    def test_a_forbidden_move_by_keyboard(self):
        """05 to the others: not together, with the amps; nothing is changed."""
        self.bench()
        before = self.batches()
        self.page.get_by_role("button", name="Move 05").focus()
        self.page.keyboard.press("Enter")
        self.page.get_by_role("dialog", name="Where 05 may go").get_by_role("button").first.wait_for()
        self.page.keyboard.press("Enter")
        alert = self.part("Batches").get_by_role("alert")
        alert.get_by_text("not together").wait_for()
        self.assertRegex(alert.inner_text(), r"\d+\.\d A rush out of 05")
        alert.get_by_role("button", name="All right").click()
        self.assertEqual(self.batches(), before)

    def test_an_allowed_move_and_back(self):
        """04 alone, then split anew."""
        self.bench()
        before = self.batches()
        self.page.get_by_role("button", name="Move 04").click()
        self.page.get_by_role("button", name="Charge 04 alone").click()
        self.settle()
        self.assertIn(["04"], self.batches())
        self.page.get_by_role("button", name="Split anew").click()
        self.settle()
        self.assertEqual(self.batches(), before)

    def test_dragged(self):
        """Onto a batch that it may not join: said why."""
        self.bench()
        target = (
            self.part("Batches")
            .locator("ol > li > div")
            .filter(has=self.page.get_by_role("button", name="Move 01"))
        )
        self.page.get_by_role("button", name="Move 13").drag_to(target)
        self.part("Batches").get_by_role("alert").get_by_text("never joined with a").wait_for()

    def test_the_schools(self):
        """Stricter rules make more batches; the three are told side by side."""
        self.bench()
        self.page.get_by_text("By each set of house rules").click()
        told = self.part("Batches").inner_text()
        self.assertRegex(told, r"Long life\s+5 batches")
        steady = len(self.batches())
        self.page.get_by_label("House rules").select_option("long_life")
        self.settle()
        self.assertGreater(len(self.batches()), steady)


class Plan(BenchScreen):
    def test_ready_by_with_a_field_supply(self):
        """Two chargers behind the power box, ready by ten tomorrow: its watts and watt-hours are told."""
        self.bench()
        self.page.get_by_text("Chargers in use: 5 of 5").click()
        for name in ("Cairn Pebble", "Skerry Brine", "Skerry Mite"):
            self.page.get_by_role("checkbox", name=name).uncheck()
            self.settle()
        self.page.get_by_label("Skerry Four is fed by").select_option(label="Boathouse power box")
        self.ready_by("10:00", "2026-11-26")
        self.settle()
        self.page.get_by_text("in time").wait_for()
        self.assertRegex(self.part("Ports over time").inner_text(), r"of 240 W, \d+ Wh of 500 Wh")
        self.ready_by("9", "2026-11-25")
        self.settle()
        self.page.get_by_text("The ready-by time lies in the past").wait_for()

    def test_gently_or_soonest(self):
        """With a time to be ready by both are offered, in hours, C and cycles; gently is taken, soonest is a
        press away, kept, and undone."""
        self.bench()
        ports = self.part("Ports over time")
        ports.get_by_text("Soonest; gently, if you say").wait_for()
        self.ready_by("9 pm", "2026-11-25")
        self.settle()
        pace = ports.get_by_role("group", name="Pace")
        pace.get_by_text(re.compile(r"at 0\.\d to 0\.\dC, wears \d\.\d cycles \(\d\.\d fewer\)")).wait_for()
        pace.get_by_text("full 5 h", exact=False).wait_for()
        expect(pace.get_by_role("radio", name="Gently")).to_be_checked()
        ports.get_by_text("to 20:45", exact=False).first.wait_for()
        ports.get_by_text("Limit: the pace, gently").first.wait_for()
        pace.get_by_role("radio", name="Soonest").check()
        self.settle()
        expect(ports.get_by_role("listitem").first).to_contain_text("14:00 to")
        expect(ports.get_by_text("Limit: the pace, gently")).to_have_count(0)
        self.page.reload()
        expect(ports.get_by_role("radio", name="Soonest")).to_be_checked()
        self.assert_accessible()

    def test_what_a_board_does_at_first(self):
        """The currents of the first minutes, as a chart, in words and as a table."""
        self.bench()
        batches = self.part("Batches")
        chart = batches.get_by_role("img", name=re.compile(r"^Charged at .* A together: .*01.*02"))
        chart.wait_for()
        self.assertIn("amps into each, by minute", chart.text_content())
        batches.get_by_text("As a table").first.click()
        batches.get_by_role("table").first.wait_for()

    def test_what_plain_charging_would_do(self):
        """03 with its lazy cell, kept out of every batch: the others would pass 4.20 V; the ways to
        storage of 05."""
        self.bench()
        self.line("03").get_by_role("button", name="storage and cells of").click()
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_text("Plain: cells 1, 2, 3 pass 4.20 V").wait_for()
        sheet.get_by_text("Balanced: no cell passes 4.20 V").wait_for()
        self.assert_accessible()
        self.page.keyboard.press("Escape")
        self.line("05").get_by_role("button", name="storage and cells of").click()
        sheet.get_by_text("To storage, 3.82 V a cell").wait_for()
        sheet.get_by_text("Or run it in Ptarmigan for about").wait_for()

    def test_not_linked(self):
        """A charger without a link: what to set, and that it is done by hand."""
        self.bench()
        self.page.get_by_role("button", name=re.compile("Steps for 13")).click()
        self.page.get_by_text("This charger is not linked: set it by hand").wait_for()


class Watch(BenchScreen):
    def test_start_watch_fault_stop_log(self):
        """Steps ticked, started, seen; a cell that does not follow stops it; the log tells why; a reload
        loses nothing."""
        self.link()
        self.bench()
        self.begin("05")
        card = self.page.get_by_role("article", name="Charging 05")
        self.watch_until(lambda: card.count() and re.search(r"in so far\s+[1-9]\d* mAh", card.inner_text()))
        self.page.reload()
        card.get_by_role("button", name="I looked: cool and flat").click()
        self.line("05").get_by_text("charging", exact=True).wait_for()
        self.assertNotIn(["05"], self.batches())
        self.assert_accessible()
        card.get_by_label("Try").select_option("not_following")
        log = self.part("Log of charges")
        self.watch_until(lambda: log.count() and "does not follow" in log.inner_text())
        self.assertEqual(card.count(), 0)
        log.get_by_role("button", name=re.compile("Charge of 05")).click()
        self.page.get_by_role("dialog").get_by_text("Cell 4 does not follow").wait_for()
        self.page.get_by_role("dialog").get_by_text("Pull the balance plug").wait_for()

    def test_the_lazy_cell_stands_out(self):
        """On a charger that does not stop: drawn heavy among the cells as they are read, with its alarm."""
        self.link()
        self.bench()
        self.begin("05")
        card = self.page.get_by_role("article", name="Charging 05")
        cells = card.get_by_role("region", name="Its cells now")
        self.watch_until(lambda: cells.count() and "V while it charges" in cells.inner_text())
        expect(cells.get_by_role("img", name="No alarm is about a single cell.")).to_be_visible()
        for fault in ("refuses_stop", "not_following"):
            card.get_by_label("Try").select_option(fault)
            self.settled()
        low = cells.get_by_role("img", name=re.compile("^Cell 4 does not follow"))
        self.watch_until(lambda: low.count())
        self.assertEqual(low.get_by_text("act", exact=True).count(), 1)
        frames = low.evaluate(
            "x => [...x.querySelectorAll('rect[rx]')].map(r => r.getAttribute('stroke-width'))"
        )
        self.assertEqual(frames, ["1", "1", "1", "3"])
        self.assert_accessible()

    def test_several_the_worst_first(self):
        """Each port a small stack; the pressed one is shown large; the one with an alarm comes first and is
        the large one where none was pressed; one press stops them all."""
        self.link()
        self.bench()
        self.begin("05")
        self.begin_beside("31")
        stacks = self.part("Watch").get_by_role("button", pressed=None).filter(has_text="Skerry Four, port")
        self.watch_until(lambda: stacks.filter(has_text="V").count() == 2)
        for tag in ("31", "05"):
            stacks.filter(has_text=re.compile(f"^{tag}")).click()
            self.page.get_by_role("article", name=f"Charging {tag}").wait_for()
            self.assertEqual(self.page.get_by_role("article", name=re.compile("^Charging")).count(), 1)
        self.assert_accessible()
        for charge in Charge.objects.all():
            charge.alarms.create(kind="warm", level="warn", time_s=1, sentence="5.3 K warmer than at first.")
            break
        self.page.reload()
        self.page.clock.run_for(1100)
        first = self.part("Watch").get_by_role("listitem").first
        first.get_by_text("5.3 K warmer than at first.").wait_for()
        self.page.get_by_role("article", name=f"Charging {charge.label}").wait_for()
        self.part("Watch").get_by_role("button", name="Stop both").click()
        self.part("Watch").wait_for(state="detached")
        self.assertEqual({c.state for c in Charge.objects.all()}, {"stopped"})

    def test_stop_on_one_key(self):
        """S stops it at the charger, from anywhere on the page."""
        self.link()
        self.bench()
        self.begin("05")
        self.watch_until(lambda: Charge.objects.get().last_seq > 1)
        self.page.locator("body").click(position={"x": 5, "y": 5})
        self.page.keyboard.press("s")
        self.page.get_by_text("Stopped.").wait_for()
        self.assertEqual(Charge.objects.get().state, "stopped")
        self.assertEqual(self.device.ports[Charge.objects.get().port - 1].state, "stopped")

    def test_nobody_looks(self):
        """It warns, then stops, and says so in the log."""
        self.link()
        self.bench()
        self.begin("05", every="3")
        self.watch_until(lambda: self.page.get_by_text("Look now: touch the pack").count())
        self.watch_until(lambda: "Nobody looked" in self.page.locator("main").inner_text())


class Looks(BenchScreen):
    def test_day(self):
        """Axe clean, nothing in the console, a table behind each chart."""
        self.bench()
        self.assert_accessible()

    def test_keys(self):
        """3 is this stage."""
        self.open("/size/ptarmigan")
        self.page.keyboard.press("3")
        self.page.wait_for_url("**/charge/ptarmigan")


class Night(BenchScreen):
    scheme = "dark"

    def test_night(self):
        """Axe clean in the dark."""
        self.bench()
        self.assert_accessible()


class Phone(BenchScreen):
    width, height, touch = 390, 844, True

    def test_phone(self):
        """Nothing sideways, also while it charges."""
        self.link()
        self.bench()
        self.assert_no_sideways_scroll()
        self.begin("05")
        self.watch_until(
            lambda: self.page.get_by_role("article", name="Charging 05").locator("polyline").count() > 1
        )
        self.assert_no_sideways_scroll()
        self.assert_accessible()


class EveryStage(BenchScreen):
    def danger(self):
        """A charge that was stopped since the pack warmed."""
        self.link()
        self.bench()
        self.begin("05")
        self.watch_until(lambda: Charge.objects.get().last_seq > 2)
        self.device.answer({"do": "fault", "port": Charge.objects.get().port, "fault": "warm"})
        self.watch_until(lambda: Charge.objects.get().state == "stopped")

    def drawn(self, part):
        """The lines of a graph, once they are there."""
        part.locator("polyline").first.wait_for(state="attached")
        return part.locator("polyline").count()

    def test_an_alarm_until_somebody_has_seen_to_it(self):
        """On every stage and in the title, with what to do; gone once confirmed; the pack stays apart."""
        self.danger()
        for stage in ("charge", "keep", "size", "run", "match"):
            self.open(f"/{stage}/ptarmigan")
            self.page.clock.run_for(11_000)
            alarms = self.part("Alarms")
            alarms.get_by_text("The pack has warmed by").first.wait_for()
            alarms.get_by_text("Do not lean over it").wait_for()
            self.assertIn("ALARM", self.page.title())
        alarms.get_by_text("What it measured until then").first.click()
        self.assertGreaterEqual(self.drawn(alarms), 4)
        self.assert_accessible()
        self.part("Alarms").get_by_role("button", name=re.compile("^I saw to it")).first.click()
        self.part("Alarms").wait_for(state="detached")
        self.assertNotIn("ALARM", self.page.title())
        self.open("/keep/ptarmigan?pack=05")
        self.page.get_by_role("article", name="Pack 05").get_by_text("Set apart: look at it first").wait_for()

    def test_a_charge_begun_elsewhere(self):
        """Said on every stage; which pack it is, is said by who stands at it: a wrong one is told at its
        field, the right one is watched."""
        self.link()
        cells = [{"capacity_ah": 3.7, "resistance_mohm": 3.0, "soc": 0.5}] * 4
        order = {"chemistry": "lipo", "program": "balance", "cells": 4, "current_a": 2, "end_cell_v": 4.2}
        self.device.answer({"do": "plug", "port": 3, "pack": {"chemistry": "lipo", "cells": cells}})
        self.device.answer({"do": "start", "port": 3, "timer_s": 9000, "cutoff_mah": 4000, **order})
        self.open("/keep/ptarmigan")
        alarms = self.part("Alarms")
        self.watch_until(lambda: alarms.count() and alarms.get_by_text("not begun here").count())
        alarms.get_by_label("It is pack").select_option("15")
        watch = alarms.get_by_role("button", name="I looked, it is cool: watch it here")
        watch.click()
        alarms.get_by_text("This is not what 15 reads").wait_for()
        self.assert_accessible()
        alarms.get_by_label("It is pack").select_option("01")
        watch.click()
        alarms.wait_for(state="detached")
        self.page.get_by_text("01 is watched from now on.").wait_for()
        self.page.get_by_role("link", name="Watch", exact=True).click()
        self.page.get_by_role("article", name="Charging 01").wait_for()

    def test_what_charges_is_said_elsewhere(self):
        """A line on the other stages leads back to it."""
        self.link()
        self.bench()
        self.begin("05")
        self.open("/keep/ptarmigan")
        self.page.clock.run_for(11_000)
        self.page.get_by_text("Charging: 05.").wait_for()
        self.page.get_by_role("link", name="Watch", exact=True).click()
        self.page.get_by_role("article", name="Charging 05").wait_for()

    def test_the_stop_key_with_a_box_in_focus(self):
        """S stops it also there."""
        self.link()
        self.bench()
        self.begin("05")
        self.watch_until(lambda: Charge.objects.get().last_seq > 1)
        self.line("14").get_by_role("button", name="Something wrong").click()
        self.line("14").get_by_role("checkbox", name="Bare, pinched or loose leads").focus()
        self.page.keyboard.press("s")
        self.page.get_by_text("Stopped.").wait_for()
        self.assertEqual(Charge.objects.get().state, "stopped")

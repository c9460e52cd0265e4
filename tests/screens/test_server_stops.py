"""In the field with the server really gone: killed after the page was loaded, and back later."""

import sqlite3

from django.test import tag

from tests.screens.case import browser
from tests.server.process import ServerProcess


@tag("browser")
class ServerStops(ServerProcess):
    def setUp(self):
        context = browser().new_context(viewport={"width": 390, "height": 844}, has_touch=True)
        self.addCleanup(context.close)
        super().setUp()
        self.page = context.new_page()

    def runs(self):
        with sqlite3.connect(self.database) as link:
            return [
                m
                for (m,) in link.execute(
                    "select minutes from life_event "
                    "where model = 'ptarmigan' and withdrawn is null order by minutes"
                )
            ]

    def test_three_runs(self):
        """The timer runs and four runs wait while nothing answers, one with its minutes put right; the server
        is back: four runs, once each."""
        self.page.goto(self.address + "run/ptarmigan?pack=04")
        self.page.get_by_label("Volts of 04, cells or pack").fill("4.19 4.18 4.19 4.19")
        self.page.get_by_role("region", name="Go or no go").wait_for()
        self.kill()
        self.page.get_by_role("button", name="Start the timer").click()
        self.page.get_by_role("timer").wait_for()
        self.page.get_by_role("button", name="Landed").click()
        self.page.get_by_label("Minutes", exact=True).fill("8.5")
        self.page.get_by_role("button", name="Keep it with the run").click()
        form = self.page.get_by_role("region", name="Log the run")
        for minutes in ("9", "9.5", "10"):
            form.get_by_label("Minutes", exact=True).fill(minutes)
            form.get_by_role("button", name="Log it").click()
        self.page.get_by_text("4 runs and 1 addition wait here to be sent").wait_for()
        self.assertEqual(self.runs(), [])
        self.start_again()
        self.page.get_by_text("here to be sent").wait_for(state="hidden")
        self.assertEqual(self.runs(), [8.5, 9.0, 9.5, 10.0])
        self.page.get_by_role("region", name="Runs").get_by_text("9.5 min").wait_for()

"""Budgets of a screen's first paint: bytes and shifts, which no slow machine changes."""

from tests.screens.case import ScreenCase

SCRIPT_BYTES = 150_000
"""Compressed, of all that runs before the first answer can be shown."""
SCRIPTS = """() => performance.getEntriesByType("resource").filter((x) => x.name.endsWith(".js"))
  .map((x) => [x.name.split("/").pop(), x.encodedBodySize])"""


class FirstLoad(ScreenCase):
    fresh_context = True

    def test_little_script_comes_before_the_first_answer(self):
        """While the plan is being computed all is there to show it, and nothing more has been fetched."""
        held = []
        self.page.route("**/api/sizing/plan*", lambda route: held.append(route))
        self.page.goto("/size/ptarmigan")
        self.page.get_by_text("Running every candidate").wait_for()
        scripts = dict(self.page.evaluate(SCRIPTS))
        self.assertGreater(sum(scripts.values()), 50_000, "sizes are told")
        self.assertLess(sum(scripts.values()), SCRIPT_BYTES, scripts)
        self.assertFalse([name for name in scripts if name.startswith(("match", "charge", "gear"))])
        for route in held:
            route.continue_()
        self.settled()


SHIFT = 0.05
"""Of the window, by the browser's own reckoning: from 0.1 on people notice."""
WATCH = """window.shifts = [];
new PerformanceObserver((list) => {
  for (const x of list.getEntries())
    window.shifts.push([x.value, x.sources.map((s) => s.node?.parentElement?.outerHTML?.slice(0, 120) ?? "")]);
}).observe({ type: "layout-shift", buffered: true });"""
SCREENS = ("/size/ptarmigan", "/match/ptarmigan", "/charge/ptarmigan", "/run/ptarmigan", "/keep/ptarmigan")
SCREENS += ("/gear/packs", "/gear/catalogue", "/rules", "/safety", "/tags", "/new")


class HoldsStill(ScreenCase):
    fresh_context = True

    def test_a_screen_keeps_its_place_from_the_first_paint(self):
        """Opened cold, nothing that was painted moves when the answers come."""
        self.page.add_init_script(WATCH)
        for path in SCREENS:
            with self.subTest(path):
                self.open(path)
                shifts = self.page.evaluate("window.shifts")
                print(
                    path,
                    round(sum(v for v, _ in shifts), 3),
                    [(round(v, 3), [s[:60] for s in n][:3]) for v, n in shifts if v > 0.01],
                )
                self.assertLessEqual(sum(value for value, _ in shifts), SHIFT, shifts)


class HoldsStillOnPhones(HoldsStill):
    width, height, touch = 390, 844, True

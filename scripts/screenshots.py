"""The pictures of docs/screenshots, taken from the demo world by the real program in headless Chromium."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
FOLDER = ROOT / "docs" / "screenshots"
DESK, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}
TALL = {"width": 1280, "height": 1100}


def settled(page: Page) -> None:
    """Wait until nothing is being computed."""
    page.wait_for_load_state("networkidle")
    page.wait_for_function("() => !document.querySelector('[aria-busy=true]')")
    page.wait_for_timeout(400)


def compare(page: Page) -> None:
    """Snow Hare's NiMH pack and its LiPo replacement side by side."""
    page.get_by_role("button", name="Pin Hollin 2S 4000 25C").first.click()
    page.locator("button[aria-label^='Pin Brackwater 6S'][aria-label*='NiMH']").first.click()
    page.get_by_role("button", name="Compare 2 pinned").click()


def new_model(page: Page) -> None:
    """A quad by its owner's answers, and what follows from them."""
    page.get_by_role("radiogroup", name="What it is").locator("label", has_text="multirotor").click()
    for name, text in (
        ("Its name", "Wren"),
        ("Mass without the pack", "520"),
        ("Cells in series (S)", "5"),
        ("Capacity", "1500"),
        ("Mass of the pack", "220"),
        ("Minutes to landing", "4"),
        ("Minutes, at least", "4"),
        ("Pack, at most", "270"),
    ):
        page.get_by_role("textbox", name=name, exact=True).fill(text)
    page.get_by_text("Assumed, until you say").wait_for()
    page.evaluate("scrollTo(0, 0)")


def wired(page: Page) -> None:
    """The pack in its bay, its wiring and the order of plugging in."""
    page.get_by_role("region", name="As it is plugged together").evaluate("e => e.scrollIntoView()")


def grid(page: Page) -> None:
    """The grid, with one cell explaining itself."""
    page.get_by_role("region", name="My packs, models and chargers").evaluate("e => e.scrollIntoView()")
    page.get_by_role("button", name="07 in Grebe").click()


def label(page: Page) -> None:
    """A label whose figures contradict one another."""
    page.get_by_label("Its label, as one line").fill("Hollin 4S1P 14.8V 3700mAh 61Wh 25C/50C charge 2C XT60")
    page.get_by_text("61 Wh").or_(page.get_by_text("61Wh")).first.wait_for()


OFFERS = """Brackwater 4S 2200mAh 45C XT60 189 g 24,90 €
- Fellside 5S 3900mAh 40C/80C charge 3C XT90 520g €61.50
Free shipping from 50 €
Firn 4S 1300 100C XT60H 155g 21.40 €
4S 2600 charge 45C 30 €"""


def offers(page: Page) -> None:
    """Offers of a shop, taken apart before they are taken."""
    page.get_by_label("A line a pack").fill(OFFERS)
    page.get_by_role("button", name="Take 4 offers").wait_for()
    page.get_by_label("A line a pack").blur()


def steps(page: Page) -> None:
    """What to set, with the first steps ticked."""
    page.get_by_role("button", name="Steps for 01 + 02").click()
    page.get_by_role("button", name="Start charging").wait_for()
    for box in page.get_by_role("dialog").get_by_role("checkbox").all()[:3]:
        box.check()


def begin(page: Page, tags: str) -> None:
    """Start a batch, every step ticked."""
    page.get_by_role("button", name=f"Steps for {tags}").first.click()
    page.get_by_role("button", name="Start charging").wait_for()
    for box in page.get_by_role("dialog").get_by_role("checkbox").all():
        box.check()
    page.get_by_role("button", name="Start charging").click()
    page.get_by_role("region", name="Watch").get_by_text(tags).first.wait_for()


def watch(page: Page) -> None:
    """Two charges under way; in one the pack warms: a warning, and it comes first."""
    begin(page, "01 + 02")
    begin(page, "05")
    page.get_by_role("region", name="Watch").get_by_role("listitem").filter(has_text="05").click()
    card = page.get_by_role("article", name="Charging 05")
    page.wait_for_timeout(20_000)
    card.get_by_role("button", name="I looked: cool and flat").click()
    card.get_by_label("Try").select_option("warm")
    page.get_by_text("Go and touch it").first.wait_for()


def practice(page: Page) -> None:
    """A wrong count of cells, seen through to its end."""
    page.emulate_media(reduced_motion="reduce")
    page.get_by_text("LiPo", exact=True).click()
    for name, text in (("How many cells?", "5"), ("How many amps?", "0.4")):
        page.get_by_role("textbox", name=name, exact=True).fill(text)
    page.get_by_role("button", name="Answer", exact=True).click()
    page.get_by_role("region", name="Seen through").wait_for()


def go(page: Page) -> None:
    """A full pack for the sailplane: go, with what to set."""
    page.get_by_role("button", name=re.compile("^04")).click()
    page.get_by_label("Volts of 04, cells or pack").fill("4.19 4.18 4.19 4.19")
    page.get_by_role("region", name="Go or no go").wait_for()


def day_ahead(page: Page) -> None:
    """Tomorrow: runs of three models, which packs, what is charged before and there."""
    page.get_by_role("button", name="Plan the day ahead").click()
    for model in ("grebe", "snow-hare"):
        page.get_by_role("combobox", name="One more model").select_option(model)
    page.get_by_role("region", name="The day ahead").get_by_text("All 9 runs").wait_for()


def rules(page: Page) -> None:
    """A stricter Steady, with what follows beside what it was; taken last, since the others go by it."""
    for name, text in (("Use at most", "70"), ("To storage within", "24"), ("Alarm, under load", "3.5")):
        with page.expect_response(lambda r: "/effects" in r.url):
            page.get_by_role("textbox", name=name, exact=True).fill(text)
    page.get_by_text("As it came").first.wait_for()
    page.evaluate("scrollTo(0, 0)")


VIEWS = {
    "first": ("own:/", DESK, "light", None),
    "new-model": ("own:/new", TALL, "light", new_model),
    "size-day": ("/size/ptarmigan", DESK, "light", None),
    "size-night": ("/size/fieldfare", DESK, "dark", None),
    "box": ("/box", TALL, "light", None),
    "compare": ("/size/snow-hare", DESK, "light", compare),
    "match-day": ("/match/ptarmigan?pack=owned:02", DESK, "light", None),
    "match-grid": ("/match/stoat?pack=owned:16", DESK, "dark", grid),
    "charge-bench": ("/charge/ptarmigan", TALL, "light", None),
    "match-wired": ("/match/ptarmigan?pack=owned:04", TALL, "light", wired),
    "charge-steps": ("/charge/ptarmigan", DESK, "light", steps),
    "practice": ("/practice?kind=settings&level=first_day&seed=12&who=1", TALL, "light", practice),
    "run-phone": ("/run/ptarmigan", PHONE, "light", go),
    "run-day": ("/run/ptarmigan", TALL, "dark", day_ahead),
    "keep": ("/keep/ptarmigan?pack=18", DESK, "light", None),
    "gear-label": ("/gear/packs?edit=new", DESK, "light", label),
    "gear-offers": ("/gear/catalogue?offers=true", DESK, "light", offers),
    "rules": ("/rules", DESK, "light", rules),
    # the last: what it starts is told on every page
    "charge-watch": ("/charge/ptarmigan", DESK, "light", watch),
}


def main() -> None:
    """Takes every picture, or those named on the command line."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as data,
        served("demo", 8650, data) as demo,
        served("own", 8660, data) as own,
        sync_playwright() as play,
    ):
        browser = play.chromium.launch(
            executable_path=shutil.which("chromium-headless-shell"),
            args=["--font-render-hinting=none"],  # letters stand as they do in a window
        )
        for name, (path, size, scheme, act) in VIEWS.items():
            if len(sys.argv) > 1 and name not in sys.argv[1:]:
                continue
            base = own if path.startswith("own:") else demo
            context = browser.new_context(base_url=base, viewport=size, color_scheme=scheme)
            page = context.new_page()
            if "charge" in path:
                page.clock.install(time="2026-11-25T14:00:00")
            page.goto(path.removeprefix("own:"))
            settled(page)
            if act:
                act(page)
                settled(page)
            page.screenshot(path=FOLDER / f"{name}.png")
            print(name)
            context.close()
        browser.close()


@contextmanager
def served(world: str, port: int, data: str, tree: Path = ROOT) -> Iterator[str]:
    """The address of one of the worlds, as long as it is asked for, by the program of a tree."""
    env = {**os.environ, "COLD_STACK_DATA": data, "PYTHONUNBUFFERED": "1"}
    command = [sys.executable, "manage.py", "serve", f"--{world}", "--port", str(port)]
    server = subprocess.Popen(command, cwd=tree, env=env, stdout=subprocess.PIPE, text=True)
    try:
        yield next(line.split("at ")[1].split()[0] for line in server.stdout or [] if "http://" in line)
    finally:
        server.terminate()
        server.wait()


if __name__ == "__main__":
    main()

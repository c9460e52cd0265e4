"""What the browser spends on typing and dragging in Size, by its own account: script, and all its work.

``python -m bench.screens [REVISION]``: with a revision that one is built and measured too, by turns with the
tree as it stands, so that both meet the same machine.
"""

from __future__ import annotations

import shutil
import statistics
import subprocess
import sys
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory as folder

from playwright.sync_api import Page, sync_playwright

from scripts.screenshots import ROOT, served

LOCK = "web/package-lock.json"
ROUNDS, DIGITS, STEPS = 5, 6, 30
PORT = 8670


@contextmanager
def tree_of(revision: str) -> Iterator[Path]:
    """A revision of the program, built, beside this tree; gone afterwards."""
    with folder() as beside:
        path = Path(beside) / "tree"
        subprocess.run(["git", "worktree", "add", "--detach", path, revision], cwd=ROOT, check=True)
        try:
            (path / ".venv").symlink_to((ROOT / ".venv").resolve())
            if (path / LOCK).read_bytes() == (ROOT / LOCK).read_bytes():
                (path / "web/node_modules").symlink_to((ROOT / "web/node_modules").resolve())
            else:
                subprocess.run(["npm", "ci", "--silent"], cwd=path / "web", check=True)
            subprocess.run(["npx", "vite", "build", "--logLevel", "error"], cwd=path / "web", check=True)
            yield path
        finally:
            subprocess.run(["git", "worktree", "remove", "--force", path], cwd=ROOT, check=True)


def cost(page: Page, act: Callable[[], None]) -> tuple[float, float]:
    """Script and all work of the page's main thread until it is at rest. [ms]"""
    session = page.context.new_cdp_session(page)
    session.send("Performance.enable")

    def spent() -> tuple[float, float]:
        told = {m["name"]: m["value"] for m in session.send("Performance.getMetrics")["metrics"]}
        return 1e3 * told["ScriptDuration"], 1e3 * told["TaskDuration"]

    before = spent()
    act()
    page.wait_for_load_state("networkidle")
    after = spent()
    session.detach()
    return after[0] - before[0], after[1] - before[1]


def typing(page: Page) -> tuple[float, float]:
    """For one digit."""
    box = page.get_by_role("textbox", name="Minutes, at least", exact=True)
    box.focus()

    def act() -> None:
        for k in range(DIGITS):
            page.keyboard.press("Control+A")
            page.keyboard.type(str(3 + k))
            page.wait_for_timeout(700)

    script, work = cost(page, act)
    return script / DIGITS, work / DIGITS


def dragging(page: Page) -> tuple[float, float]:
    """For one step of the mouse."""
    box = page.get_by_role("slider", name="Mass of the pack, at most").bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def act() -> None:
        page.mouse.move(x, y)
        page.mouse.down()
        for k in range(STEPS):
            page.mouse.move(x + 40 * (1 if k < STEPS / 2 else -1) * (k % 15) / 15, y)
            page.wait_for_timeout(16)
        page.mouse.up()
        page.wait_for_timeout(700)

    script, work = cost(page, act)
    return script / STEPS, work / STEPS


def main(revision: str | None) -> None:
    """Prints medians of the rounds."""
    with ExitStack() as held:
        trees = {"as it stands": ROOT}
        if revision:
            trees[revision] = held.enter_context(tree_of(revision))
        bases = {
            name: held.enter_context(served("demo", PORT + k, held.enter_context(folder()), tree))
            for k, (name, tree) in enumerate(trees.items())
        }
        chromium = held.enter_context(sync_playwright()).chromium
        browser = chromium.launch(executable_path=shutil.which("chromium-headless-shell"))
        found: dict[tuple[str, str], list[tuple[float, float]]] = {}
        for _ in range(ROUNDS):
            for name, base in bases.items():
                page = browser.new_page(viewport={"width": 1280, "height": 800})
                page.goto(base + "/size/ptarmigan")
                page.get_by_role("slider", name="Mass of the pack, at most").wait_for()
                page.wait_for_timeout(3000)
                for what, measured in (("a digit", typing), ("a step of a drag", dragging)):
                    found.setdefault((what, name), []).append(measured(page))
                page.close()
        for (what, name), times in found.items():
            script, work = (statistics.median(column) for column in zip(*times, strict=True))
            print(f"{what}, {name}: script {script:.1f} ms, all work {work:.1f} ms")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else None)

"""What the browser spends on typing and dragging in Size, by its own account: script, and all its work.

``python -m bench.screens [REVISION]``: with a revision that one is built and measured too, by turns with the
tree as it stands, so that both meet the same machine.
"""

from __future__ import annotations

import os
import shutil
import socket
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
LOCK = "web/package-lock.json"
ROUNDS, DIGITS, STEPS = 5, 6, 30


@contextmanager
def tree_of(revision: str) -> Iterator[Path]:
    """A revision of the program, built, beside this tree; gone afterwards."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "tree"
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


@contextmanager
def served(tree: Path) -> Iterator[str]:
    """The demo, served by that tree; its address."""
    with socket.socket() as free, tempfile.TemporaryDirectory() as data:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
        free.close()
        env = os.environ | {"COLD_STACK_DATA": data, "COLD_STACK_WORLD": "demo"}
        manage = [str(ROOT / ".venv/bin/python"), "manage.py"]
        subprocess.run([*manage, "migrate", "-v0"], cwd=tree, env=env, check=True)
        subprocess.run([*manage, "load_demo"], cwd=tree, env=env, check=True, stdout=subprocess.DEVNULL)
        server = subprocess.Popen([*manage, "serve", "--port", str(port)], cwd=tree, env=env)
        try:
            base = f"http://127.0.0.1:{port}"
            for _ in range(240):
                try:
                    urllib.request.urlopen(base + "/api/models", timeout=5).close()
                    break
                except OSError:
                    time.sleep(0.25)
            yield base
        finally:
            server.terminate()
            server.wait()


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
        bases = {"as it stands": held.enter_context(served(ROOT))}
        if revision:
            bases[revision] = held.enter_context(served(held.enter_context(tree_of(revision))))
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

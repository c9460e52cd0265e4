"""Mutants of core: each changes one line, and the tests should notice. ``make mutants [ONLY=text]``, or
``make mutants SAMPLE=400`` for lines taken by chance, which the tests of their own room alone should notice.

The list, tests/mutants.json, spreads over all of core: limits, judgement constants, conditions. Each is
put into a copy of the project; the tests of its own room run first, then the rest of core's.
"""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue

from mutant_lines import sampled

ROOT = Path(__file__).resolve().parents[1]
LIST = ROOT / "tests" / "mutants.json"
EXPLAINED = ROOT / "tests" / "survivors.json"
"""Sampled mutants that no test can notice, each with why: they change nothing that anybody sees."""
LANES = 2
EXAMPLES = "12"
"""Of each property: enough for most mutants, and five times as quick."""
SEED = 26
"""Of the sample: the same lines each time, until they change."""
PATIENCE_S = 600
"""A mutant that makes a test run for ever counts as killed."""


@dataclass(frozen=True)
class Mutant:
    """One line of a file of core, and what it becomes."""

    file: str
    line: str
    becomes: str
    alone: bool = False
    """Whether the tests of its own room alone must notice."""

    @property
    def labels(self) -> list[list[str]]:
        """Those named after its file, its room's, then all of core's."""
        tests, (room, *_) = ROOT / "tests" / "core", self.file.split("/")
        near = f"test_{Path(self.file).stem}"
        own = [f"tests.core.{room}"] if (tests / room).is_dir() else []
        named = [f"tests.core.{room}.{near}"] if (tests / room / f"{near}.py").is_file() else []
        rest = [] if self.alone and own else ["tests.core"]
        return [[label] for label in (*named, *own, *rest)]

    def put_into(self, copy: Path) -> str:
        """Change the copy's file; what it was."""
        path = copy / "coldstack" / "core" / self.file
        was = path.read_text()
        if was.count(self.line) != 1:
            raise SystemExit(f"{self.file}: this line is not there once: {self.line}")
        path.write_text(was.replace(self.line, self.becomes))
        return was


def main() -> int:
    """Print each survivor, and the share that was killed; 1 below 85 %."""
    sample = int(os.environ.get("SAMPLE") or 0)
    only = sys.argv[1] if len(sys.argv) > 1 else ""
    explained = {(x["file"], x["line"], x["becomes"]) for x in json.loads(EXPLAINED.read_text())}
    listed = sampled(ROOT / "coldstack" / "core", sample, SEED) if sample else json.loads(LIST.read_text())
    listed = [m for m in listed if (m["file"], m["line"], m["becomes"]) not in explained]
    mutants = [Mutant(**m, alone=bool(sample)) for m in listed if only in m["file"] or only in m["line"]]
    with tempfile.TemporaryDirectory() as folder:
        lanes: SimpleQueue[Path] = SimpleQueue()
        copies = [_copy(Path(folder) / str(k)) for k in range(LANES)]
        if _fails(copies[0], ["tests.core"]):
            raise SystemExit(
                "Core's tests fail in the copy before anything is changed: that would count as killed."
            )
        for copy in copies:
            lanes.put(copy)
        with ThreadPoolExecutor(LANES) as pool:
            killed = list(pool.map(lambda m: _killed(m, lanes), mutants))
    survivors = [m for m, dead in zip(mutants, killed, strict=True) if not dead]
    for m in survivors:
        print(f"{m.file}\n  {m.line}\n  {m.becomes}")
    share = 100 * sum(killed) / max(len(mutants), 1)
    print(f"{sum(killed)} of {len(mutants)} mutants killed, {share:.0f} %")
    return 0 if share >= 85 else 1


def _copy(to: Path) -> Path:
    """What core's tests need; with the compiled kernel, which goes by the files' times."""
    for name in ("coldstack", "tests", "docs", "bench", "scripts", "web"):
        ignored = shutil.ignore_patterns("web_dist", "screenshots", "node_modules")
        shutil.copytree(ROOT / name, to / name, ignore=ignored)
    for name in ("manage.py", "pyproject.toml"):
        shutil.copy2(ROOT / name, to)
    return to


def _killed(mutant: Mutant, lanes: SimpleQueue[Path]) -> bool:
    copy = lanes.get()
    killed = False
    was = mutant.put_into(copy)
    try:
        killed = any(_fails(copy, labels) for labels in mutant.labels)
        return killed
    finally:
        print("killed  " if killed else "survived", mutant.file, "|", mutant.line, flush=True)
        (copy / "coldstack" / "core" / mutant.file).write_text(was)
        lanes.put(copy)


def _fails(copy: Path, labels: list[str]) -> bool:
    command = [sys.executable, "manage.py", "test", "--failfast", *labels]
    environment = {**os.environ, "TEST_EXAMPLES": EXAMPLES}
    try:
        done = subprocess.run(command, cwd=copy, env=environment, capture_output=True, timeout=PATIENCE_S)
    except subprocess.TimeoutExpired:
        return True
    return done.returncode != 0


if __name__ == "__main__":
    sys.exit(main())

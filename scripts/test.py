"""All tests, in two processes side by side: each takes every other class, with a database of its own.

A process that fails, or dies, fails the whole; what each says is printed whole, one after the other.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
from pathlib import Path

SHARDS = 2
ROOT = Path(__file__).resolve().parents[1]


def main() -> int:
    """The highest exit code; 0 if all passed."""
    asked = sys.argv[1:] or ["tests"]
    with tempfile.TemporaryDirectory() as folder:
        logs = [Path(folder) / f"{k}.log" for k in range(SHARDS)]
        running = [_started(k, asked, log) for k, log in enumerate(logs)]
        codes = [process.wait() for process in running]
        said = [log.read_text(errors="replace") for log in logs]
    print("\n".join(said))
    found = [
        tuple(map(int, m))
        for m in re.findall(r"^(\d+) passed, (\d+) failed, (\d+) skipped$", "\n".join(said), re.M)
    ]
    passed, failed, skipped = (sum(column) for column in zip(*found, strict=True)) if found else (0, 0, 0)
    print(f"in all {passed} passed, {failed} failed, {skipped} skipped")
    return max(codes) if len(found) == SHARDS else max(1, *codes)


def _started(shard: int, asked: list[str], log: Path) -> subprocess.Popen[bytes]:
    command = [sys.executable, "manage.py", "test", *asked]
    environment = {**os.environ, "TEST_SHARD": f"{shard}/{SHARDS}"}
    with log.open("wb") as out:
        return subprocess.Popen(command, cwd=ROOT, env=environment, stdout=out, stderr=subprocess.STDOUT)


if __name__ == "__main__":
    sys.exit(main())

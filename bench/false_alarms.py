"""How often the watch cries wolf: charges of sound packs by the program's own physics, read by honest meters.

``python -m bench.false_alarms [COUNT]`` takes so many of each chemistry (2000), side by side.
"""

from __future__ import annotations

import sys
from collections import Counter
from multiprocessing import Pool

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from tests.core.watching.attended import tally

AT_ONCE = 100


def _some(kind: str, count: int, seed: int) -> tuple[str, Counter[str], int]:
    return kind, *tally(kind, count, seed)


def main(count: int) -> None:
    """Prints for each chemistry how many were to be stopped, and every alarm that there was."""
    parts = [min(AT_ONCE, count - begun) for begun in range(0, count, AT_ONCE)]
    jobs = [(kind, part, 1000 + k) for k, part in enumerate(parts) for kind in CHEMISTRY_IDS]
    alarms, stopped = Counter[str](), Counter[str]()
    with Pool() as pool:
        for kind, kinds, stops in pool.starmap(_some, jobs):
            stopped[kind] += stops
            alarms.update({f"{kind}: {name}": n for name, n in kinds.items()})
    for kind in CHEMISTRY_IDS:
        print(f"{kind}: {stopped[kind]} of {count} sound packs to be stopped")
    print(f"alarms: {dict(alarms) or 'none'}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 2000)

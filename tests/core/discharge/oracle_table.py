"""What the oracle finds for the random jobs, kept in a file, since it takes two minutes to find it.

The file names what it was found for: jobs, oracle and curves. Where one of these has changed it is of no
use, and `python -m tests.core.discharge.oracle_table` writes it anew.
"""

from __future__ import annotations

import hashlib
import json
from concurrent.futures import ProcessPoolExecutor
from dataclasses import asdict
from importlib.resources import files
from pathlib import Path

import numpy as np

from tests.core.discharge import oracle
from tests.core.discharge.random_jobs import random_job

TABLE = Path(__file__).with_name("oracle_found.json")
ALIKE, UNEQUAL = range(400), range(1000, 1060)


def jobs() -> list[oracle.Job]:
    """The jobs of the table: first those with cells alike."""
    return [*(random_job(s) for s in ALIKE), *(random_job(s, unequal=True) for s in UNEQUAL)]


def fingerprint(of: list[oracle.Job]) -> str:
    """Of all that the figures hang on: jobs to nine digits, so that another machine's last bit is no
    matter, the curves, and the oracle itself."""
    digest = hashlib.sha256()
    for job in of:
        for value in vars(job).values():
            digest.update(_nine_digits(value))
    digest.update((files("coldstack.core") / "data" / "ocv.csv").read_bytes())
    digest.update(Path(oracle.__file__).read_bytes())
    return digest.hexdigest()


def _nine_digits(value: object) -> bytes:
    if isinstance(value, np.ndarray):
        return np.round(value, 9).tobytes()
    if isinstance(value, list | tuple):
        return b"".join(map(_nine_digits, value))
    return (f"{value:.9g}" if isinstance(value, float) else str(value)).encode() + b";"


def read() -> tuple[str, list[oracle.Found]]:
    """What the figures were found for, and they themselves, in the order of the jobs."""
    table = json.loads(TABLE.read_text())
    return table["of"], [oracle.Found(**row) for row in table["found"]]


def write() -> None:
    """Find them all, on two processes, and keep them."""
    of = jobs()
    with ProcessPoolExecutor(2) as pool:
        found = list(pool.map(oracle.run, of, chunksize=8))
    rows = ",\n".join(json.dumps(asdict(x), default=float) for x in found)
    TABLE.write_text(f'{{"of": "{fingerprint(of)}", "found": [\n{rows}\n]}}\n')


if __name__ == "__main__":
    write()

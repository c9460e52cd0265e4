"""How often somebody on a board gets more than a fifth over its own charge current after the first minute, if
what each pack resists and holds is drawn from what is known of it: ``python -m bench.boards [BOARDS]``."""

from __future__ import annotations

import random
import sys
from dataclasses import replace

import numpy as np

from coldstack.core.boards.board_circuit import Until
from coldstack.core.boards.rush import _exchange, _joined, own_a, shared_charge_a
from coldstack.core.charging.charge_time import CAPACITY_FACTORS, HIGH
from coldstack.core.packs.resistance import cell_resistances
from coldstack.core.rules.house_rules import HOUSE_RULES, for_chemistry
from tests.core.boards.laid import board, lay
from tests.core.boards.test_rush import a_bench

BOARDS, DRAWS, OVER, AFTER_S, ROWS = 200, 20, 1.2, 60.0, 20000


def over_share(boards: int, *, measured: bool, seed: int = 4) -> tuple[float, float]:
    """Share of the draws in which somebody was over 120 % after the first minute, and how much of what labels
    allow the boards charge at."""
    rng, chance, over, draws, given = random.Random(seed), np.random.default_rng(seed), 0, 0, []
    while len(given) < boards:
        rules = HOUSE_RULES[rng.choice(list(HOUSE_RULES))]
        laid = a_bench(rng, wide=rules.parallel_spread_v)
        if not measured:
            laid = _unmeasured(laid)
        most = sum(own_a(m, rules) for m in laid)
        amps, _ = shared_charge_a(laid, rules, board(sockets=12, continuous_a=60.0), most)
        given.append(amps / most)
        known = _joined(laid)
        full_v = laid[0].pack.series * for_chemistry(rules, laid[0].pack.chemistry).full_v
        limit = OVER * np.array([own_a(m, rules) for m in laid])
        _, spread, _ = cell_resistances([m.pack for m in laid], "cautious")
        n = len(laid)
        for _ in range(DRAWS):
            ohm = np.exp(np.log1p(spread) / 2 * chance.standard_normal(n))
            ah = 1 + (CAPACITY_FACTORS[HIGH] - 1) / 2 * chance.standard_normal(n)
            slow = np.exp(np.log(1.4) / 2 * chance.standard_normal(n))
            drawn = known._replace(
                cell_ohm=known.cell_ohm * ohm,
                capacity_ah=known.capacity_ah * ah,
                slow_ohm=known.slow_ohm * slow,
            )
            trace = np.zeros((ROWS, n + 1))
            _, _, rows = _exchange(drawn, Until(amps, full_v, 0.0, 12 * 3600.0), limit, trace)
            later = trace[:rows][trace[:rows, 0] > AFTER_S]
            draws += 1
            over += bool((later[:, 1:] > limit).any())
    return over / draws, float(np.mean(given))


def _unmeasured(laid):
    packs = [replace(m.pack, cell_mohm=None, label_c=30.0) for m in laid]
    return [lay(p, *m.reading.cell_v) for p, m in zip(packs, laid, strict=True)]


def board_lines(boards: int = BOARDS) -> list[str]:
    """The measurements as lines of text."""
    out = []
    for measured, words in ((True, "measured"), (False, "by the label")):
        over, given = over_share(boards, measured=measured)
        out.append(
            f"{boards} boards, resistances {words}: somebody over 120 % after the first minute in {over:.1%} "
            f"of the draws; amps {given:.0%} of what all may have together"
        )
    return out


if __name__ == "__main__":
    print("\n".join(board_lines(int(sys.argv[1]) if len(sys.argv) > 1 else BOARDS)))

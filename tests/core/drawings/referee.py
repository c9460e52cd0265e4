"""Another judge of a circuit: solved as resistors, by nodal analysis, and not as the core does it."""

from __future__ import annotations

import numpy as np

WIRE_OHM, CELL_OHM, LEAK_OHM = 1e-3, 4e-3, 1e8
SHORT_A = 60.0
"""More than this flows only where cells work on nothing but copper: a cell's 3.7 V on some mΩ."""


def solved(circuit, mated):
    """Volts of every node over an earth that all leak to, and amps of every cell."""
    resistors = [(w.a, w.b, WIRE_OHM) for w in circuit.wires]
    for m in mated:
        a, b = circuit.halves[m.a], circuit.halves[m.b]
        for pole, node in a.contacts:
            other = {"plus": "minus", "minus": "plus"}.get(pole, pole) if m.crossed else pole
            if (met := b.node(other)) is not None:
                resistors.append((node, met, WIRE_OHM))
    names = {n for a, b, _ in resistors for n in (a, b)}
    names |= {n for c in circuit.cells for n in (c.low, c.high)}
    names |= {n for h in circuit.halves.values() for _, n in h.contacts}
    at = {name: i for i, name in enumerate(sorted(names))}
    g, i = np.zeros((len(at), len(at))), np.zeros(len(at))
    for a, b, ohm in [*resistors, *((c.low, c.high, CELL_OHM) for c in circuit.cells)]:
        j, k = at[a], at[b]
        g[j, j] += 1 / ohm
        g[k, k] += 1 / ohm
        g[j, k] -= 1 / ohm
        g[k, j] -= 1 / ohm
    for c in circuit.cells:
        i[at[c.high]] += c.volts / CELL_OHM
        i[at[c.low]] -= c.volts / CELL_OHM
    g[np.diag_indices(len(at))] += 1 / LEAK_OHM
    v = np.linalg.solve(g, i)
    amps = [abs(c.volts - (v[at[c.high]] - v[at[c.low]])) / CELL_OHM for c in circuit.cells]
    return {name: v[k] for name, k in at.items()}, max(amps, default=0.0)


def has_volts(circuit, mated, half_id):
    """Whether a voltmeter of 100 kΩ over two contacts of a plug shows anything."""
    nodes = [n for _, n in circuit.halves[half_id].contacts]
    volts, _ = solved(circuit, mated)
    for k, a in enumerate(nodes):
        for b in nodes[:k]:
            # with a leak to earth at every node, islands float: only a loop through the meter tells
            if abs(volts[a] - volts[b]) > 0.3 and _one_island(circuit, mated, a, b):
                return True
    return False


def _one_island(circuit, mated, a, b):
    """Whether moving one node by force moves the other."""
    pushed = [*circuit.wires]
    names = {n for w in pushed for n in (w.a, w.b)}
    links = {n: set() for n in names}
    pairs = [(w.a, w.b) for w in circuit.wires] + [(c.low, c.high) for c in circuit.cells]
    for m in mated:
        x, y = circuit.halves[m.a], circuit.halves[m.b]
        swap = {"plus": "minus", "minus": "plus"} if m.crossed else {}
        pairs += [(n, y.node(swap.get(p, p))) for p, n in x.contacts if y.node(swap.get(p, p))]
    for x, y in pairs:
        links.setdefault(x, set()).add(y)
        links.setdefault(y, set()).add(x)
    seen, todo = {a}, [a]
    while todo:
        for n in links.get(todo.pop(), ()):
            if n not in seen:
                seen.add(n)
                todo.append(n)
    return b in seen

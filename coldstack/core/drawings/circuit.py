"""Cells, wires and plug halves as a circuit: what is joined with what, which contacts are live, and what must
not be.

Wires and mated contacts join nodes to one potential; cells set potentials apart. So a loop of wires whose
cells do not cancel is a short circuit, whatever it looks like on the bench.
"""

from __future__ import annotations

from collections import defaultdict, deque
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Literal

Pole = str
"""``plus``, ``minus``, or ``tap 0`` to ``tap 14`` of a balance plug, from minus."""
FaultKind = Literal["short", "reversed", "thin", "bare"]
LIVE_V = 0.5
"""Volts between the contacts of a plug from which it counts as live: less than any cell has. House figure."""
SHORT_V = 0.5
"""Volts around a loop of wires from which it is no longer two packs that differ a little. House figure."""


@dataclass(frozen=True, slots=True)
class Cell:
    """One cell, or several in parallel, between two nodes. [V]"""

    low: str
    high: str
    volts: float
    pack: str


@dataclass(frozen=True, slots=True)
class Wire:
    """Copper between two nodes; ``thin`` are balance wires."""

    a: str
    b: str
    thin: bool = False


@dataclass(frozen=True, slots=True)
class Half:
    """One half of a plug: its contacts by pole, and the node that each is.

    ``bare`` where metal stands in the open when it is not plugged in; ``thin`` of balance plugs. ``fed``
    where plus must be above minus: a model, a charger, a board.
    """

    id: str
    contacts: tuple[tuple[Pole, str], ...]
    bare: bool = False
    thin: bool = False
    fed: bool = False

    def node(self, pole: Pole) -> str | None:
        """The node of a contact; None if it has no such."""
        return dict(self.contacts).get(pole)


@dataclass(frozen=True, slots=True)
class Mated:
    """Two halves plugged into each other; ``crossed`` with plus in minus, where the shape lets one."""

    a: str
    b: str
    crossed: bool = False


@dataclass(frozen=True, slots=True)
class Fault:
    """What must not be: which kind, and in which packs or halves it shows."""

    kind: FaultKind
    where: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Circuit:
    """All that lies on the bench, plugged in or not."""

    cells: tuple[Cell, ...] = ()
    wires: tuple[Wire, ...] = ()
    halves: dict[str, Half] = field(default_factory=dict)

    def __add__(self, other: Circuit) -> Circuit:
        return Circuit(self.cells + other.cells, self.wires + other.wires, {**self.halves, **other.halves})


@dataclass(frozen=True, slots=True)
class State:
    """A circuit as it is plugged together: potential of each node within its island, the islands, and what is
    wrong."""

    volts: dict[str, float]
    island: dict[str, int]
    live: frozenset[str]
    """Halves that are not plugged in and have volts between their contacts."""
    faults: tuple[Fault, ...]

    def between(self, a: str, b: str) -> float | None:
        """Volts of one node over another; None where nothing joins them."""
        if a not in self.island or self.island[a] != self.island.get(b):
            return None
        return self.volts[a] - self.volts[b]


def state_of(circuit: Circuit, mated: Iterable[Mated]) -> State:
    """What is where at which volts, what is live, and every fault."""
    mated = tuple(mated)
    copper = [*((w.a, w.b) for w in circuit.wires), *(p for m in mated for p in _met(circuit, m))]
    links: dict[str, list[tuple[str, float]]] = defaultdict(list)
    for a, b in copper:
        links[a].append((b, 0.0))
        links[b].append((a, 0.0))
    for cell in circuit.cells:
        links[cell.low].append((cell.high, cell.volts))
        links[cell.high].append((cell.low, -cell.volts))
    volts: dict[str, float] = {}
    island: dict[str, int] = {}
    odd: list[tuple[str, str]] = []
    for number, start in enumerate(links):
        if start not in island:
            odd += _spread(links, start, number, volts, island)
    state = State(volts, island, frozenset(), ())
    plugged = {half for m in mated for half in (m.a, m.b)}
    loose = [h for h in circuit.halves.values() if h.id not in plugged]
    live = frozenset(h.id for h in loose if _is_live(h, state))
    faults = [
        # where a loop shorts, volts mean nothing
        *([Fault("short", _packs_about(circuit, odd, island))] if odd else _reversed(circuit, state)),
        *_thin(circuit, mated),
        *(Fault("bare", (h.id,)) for h in loose if h.bare and h.id in live),
    ]
    return State(volts, island, live, tuple(faults))


def _met(circuit: Circuit, m: Mated) -> list[tuple[str, str]]:
    """The pairs of nodes that two plugged halves join."""
    a, b = circuit.halves[m.a], circuit.halves[m.b]
    swap = {"plus": "minus", "minus": "plus"} if m.crossed else {}
    return [(node, other) for pole, node in a.contacts if (other := b.node(swap.get(pole, pole)))]


def _spread(
    links: dict[str, list[tuple[str, float]]],
    start: str,
    number: int,
    volts: dict[str, float],
    island: dict[str, int],
) -> list[tuple[str, str]]:
    """Give every node that hangs on ``start`` its potential; the links whose ends then disagree."""
    volts[start], island[start] = 0.0, number
    queue, odd = deque([start]), []
    while queue:
        at = queue.popleft()
        for to, rise in links[at]:
            if to not in island:
                volts[to], island[to] = volts[at] + rise, number
                queue.append(to)
            elif abs(volts[at] + rise - volts[to]) > SHORT_V:
                odd.append((at, to))
    return odd


def _packs_about(circuit: Circuit, odd: list[tuple[str, str]], island: dict[str, int]) -> tuple[str, ...]:
    shorted = {island[a] for a, _ in odd}
    return tuple(dict.fromkeys(c.pack for c in circuit.cells if island.get(c.low) in shorted))


def _is_live(half: Half, state: State) -> bool:
    nodes = [node for _, node in half.contacts]
    apart = (state.between(a, b) for i, a in enumerate(nodes) for b in nodes[:i])
    return any(v is not None and abs(v) >= LIVE_V for v in apart)


def _reversed(circuit: Circuit, state: State) -> list[Fault]:
    found = []
    for half in circuit.halves.values():
        plus, minus = half.node("plus"), half.node("minus")
        if half.fed and plus is not None and minus is not None:
            volts = state.between(plus, minus)
            if volts is not None and volts < -LIVE_V:
                found.append(Fault("reversed", (half.id,)))
    return found


def _thin(circuit: Circuit, mated: tuple[Mated, ...]) -> list[Fault]:
    """Packs whose cells balance wires join before their main leads do: those wires take the rush then."""
    if not any(circuit.halves[m.a].thin for m in mated):
        return []
    thick = [(w.a, w.b) for w in circuit.wires if not w.thin]
    thin = [(w.a, w.b) for w in circuit.wires if w.thin]
    for m in mated:
        (thin if circuit.halves[m.a].thin else thick).extend(_met(circuit, m))
    by_main, by_any = _nets(thick), _nets([*thick, *thin])
    packs: dict[str, list[Cell]] = defaultdict(list)
    for cell in circuit.cells:
        packs[cell.pack].append(cell)
    names = list(packs)
    return [
        Fault("thin", (one, other))
        for i, one in enumerate(names)
        for other in names[:i]
        if _joined_twice(packs[one], packs[other], by_any)
        and not _joined_twice(packs[one], packs[other], by_main)
    ]


def _joined_twice(one: list[Cell], other: list[Cell], net: dict[str, str]) -> bool:
    """Whether two nodes or more of each are one: a loop through both."""
    mine = {net.get(n, n) for c in one for n in (c.low, c.high)}
    yours = {net.get(n, n) for c in other for n in (c.low, c.high)}
    return len(mine & yours) > 1


def _nets(copper: list[tuple[str, str]]) -> dict[str, str]:
    """The name of each node's net: nodes that copper joins have the same."""
    net: dict[str, str] = {}

    def of(node: str) -> str:
        while (up := net.setdefault(node, node)) != node:
            net[node] = net.get(up, up)
            node = up
        return node

    for a, b in copper:
        net[of(a)] = of(b)
    return {node: of(node) for node in list(net)}

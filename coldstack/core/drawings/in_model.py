"""A pack, or two, wired into a model."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.adapters import Path
from coldstack.core.chain.plugs import PlugEnd, plug_family
from coldstack.core.draw.motion import Motion, MotionId
from coldstack.core.drawings.circuit import Mated
from coldstack.core.drawings.forbidden import Forbidden, forbidden
from coldstack.core.drawings.packs import pack_on_bench
from coldstack.core.drawings.soldering import Soldering, soldering
from coldstack.core.drawings.strip import Act, strip_of
from coldstack.core.drawings.wired import Load, Wiring, chain_sentence
from coldstack.core.drawings.wiring import (
    LEADS_FOR_TWO,
    WiredBench,
    laid,
    lead_for_two,
    model_laid,
    piece_laid,
)
from coldstack.core.matching.drive import DriveFit
from coldstack.core.packs.pack import Pack
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.job import Electronics, Job, Joined
from coldstack.core.trial.ways import device_end, pack_end_in
from coldstack.core.units import upper_first

OFF = "Switch it off."
_TURNS = "Radio on, throttle down, "
HELD: dict[MotionId, str] = {
    "level_flight": _TURNS + "the propeller clear of hands and cloth.",
    "hover": _TURNS + "the rotors clear of hands and cloth.",
    "wheels": _TURNS + "the wheels off the ground.",
    "tracks": _TURNS + "the tracks off the ground.",
    "hull": _TURNS + "the screw clear of hands and lines.",
    "steady_load": OFF,
}
"""Before a pack goes in, by what then may turn."""
NOT_LIVE = "Without a pack none of it is live."
SLEEVE = "The lead’s other end is bare and live now: keep its sleeve on until the other pack is there."
SPARK = "The controller fills with a spark: a plug that hesitates burns."
BOTH = "Pull one pack, then the other, at the plugs and not at the wires."


def drive_wiring(job: Job, candidate: Candidates, pack: Pack, fit: DriveFit) -> Wiring:
    """One candidate (a row of one, made of ``pack``) into the model, through what is owned, or what one would
    get."""
    kind, end = candidate.kind(0), pack_end_in(job, pack)
    bench, joined = laid_in_model(
        pack,
        end=end,
        goal=device_end(job, end),
        way=fit.shown,
        two=("parallel" if kind.beside else "series") if kind.joined else "",
        awg=float(candidate.lead_awg[0]),
        model=job.name,
        electronics=job.electronics,
        plug_assumed=job.is_assumed("electronics.plug"),
    )
    loads = tuple(_loads(bench, fit, joined))
    plug_in, pull_out = acts_in_model(bench, joined, job.motion)
    return Wiring(
        parts=bench.parts,
        joined=tuple(joined),
        loads=loads,
        plug_in=tuple(strip_of(bench.circuit, plug_in)),
        pull_out=tuple(strip_of(bench.circuit, pull_out, begun=joined)),
        forbidden=tuple(_forbidden(bench, joined)),
        to_get=tuple(f"piece {i}" for i, x in enumerate(fit.shown.pieces) if not x.owned),
        sentence=chain_sentence(bench, joined, loads),
    )


def solderings(job: Job, candidate: Candidates, pack: Pack, fit: DriveFit) -> list[Soldering]:
    """Each cure by a new plug, one wire at a time."""
    kind, end = candidate.kind(0), pack_end_in(job, pack)
    return [
        soldering(
            old=end,
            model=device_end(job, end),
            new=fix.plug,
            both=fix.kind == "solder_model",
            pack_v=pack.series * chemistry(pack.chemistry).full_v,
            packs=2 if kind.joined else 1,
            stored=chemistry(pack.chemistry).storage_v is not None,
            balance_plug=pack.balance_brought_out,
        )
        for fix in fit.fixes
        if fix.plug
    ]


def laid_in_model(
    pack: Pack,
    *,
    end: PlugEnd,
    goal: PlugEnd,
    way: Path,
    two: Joined,
    awg: float,
    model: str,
    electronics: Electronics,
    plug_assumed: bool = False,
) -> tuple[WiredBench, list[Mated]]:
    """One pack, or ``two`` alike joined by a lead, through the pieces of a way into a model; and what is
    plugged into what, from the packs on."""
    bench, joined, last = _packs(pack, end, 2 if two else 1, awg), [], "pack 0.main"
    if two:
        bench += lead_for_two("lead", two, end, awg=awg, column=1)
        joined, last = [Mated(f"pack {k}.main", f"lead.in {k}") for k in range(2)], "lead.out"
    for i, (piece, ends) in enumerate(zip(way.pieces, way.ends(end, goal), strict=True)):
        bench += piece_laid(f"piece {i}", piece, ends, column=2 + i, packs_at="left")
        joined.append(Mated(last, f"piece {i}.near"))
        last = f"piece {i}.far"
    bench += model_laid(
        "model",
        model,
        f"{electronics.lead_awg:g} AWG leads",
        goal,
        awg=electronics.lead_awg,
        lead_mm=electronics.lead_length_mm,
        assumed=plug_assumed,
        column=2 + len(way.pieces),
    )
    return bench, [*joined, Mated(last, "model.main")]


def _packs(pack: Pack, end: PlugEnd, packs: int, awg: float) -> WiredBench:
    return laid(
        [
            pack_on_bench(
                pack,
                f"pack {k}",
                name=pack.called if packs == 1 else f"{pack.called}, {'one' if k == 0 else 'the other'}",
                cell_v=chemistry(pack.chemistry).full_v,
                end=end,
                awg=awg,
                row=k,
                side="right",
            )
            for k in range(packs)
        ]
    )


def _loads(bench: WiredBench, fit: DriveFit, joined: Sequence[Mated]) -> Iterator[Load]:
    """Of each pair of plugs from the pack's on, of the wires between, and of the ends."""
    by_link = {j.link: j for j in fit.joints}
    pairs = [m for m in joined if bench.owner(m.b).kind not in LEADS_FOR_TWO]
    pieces = [part.id for part in bench.parts if part.kind == "piece"]
    at = {"plug": pairs[0].a, **{f"plug{i}": m.a for i, m in enumerate(pairs) if i}}
    at |= {f"adapter{i}": piece for i, piece in enumerate(pieces)}
    at |= {"pack_leads": "pack 0", "leads": "model"}
    for link, where in at.items():
        if (joint := by_link.get(link)) is not None:
            yield Load(where, joint.name, fit.rms_a, joint.loading)


def acts_in_model(bench: WiredBench, joined: list[Mated], motion: Motion) -> tuple[list[Act], list[Act]]:
    """The order in which nothing lies about live: from the model to the packs, and back."""
    packs = tuple(m for m in joined if bench.owner(m.a).kind == "pack")
    rest = tuple(m for m in joined if m not in packs)
    plug = [Act("hold", HELD[motion.id])]
    if rest:
        plug.append(Act("pieces", "Plug everything that lies between into the model.", NOT_LIVE, rest))
    last = "Plug the pack in last, in one push." if len(packs) == 1 else "Plug the other pack in last."
    if len(packs) > 1:
        bare = bench.part("parallel_lead") is not None and bench.plug(packs[1].b).bare
        plug.append(Act("first", "Plug the first pack in.", SLEEVE if bare else "", packs[:1]))
    plug.append(Act("pack", last, SPARK if motion.moves else "", packs[-1:]))
    pull = [
        Act("stop", "Throttle down, the motor stands." if motion.moves else OFF),
        Act(
            "pack_out",
            "Pull the pack, at its plug and not at its wires." if len(packs) == 1 else BOTH,
            "",
            (),
            packs,
        ),
    ]
    if rest:
        pull.append(Act("pieces_out", "Then what lies between, if it must come out.", "", (), rest))
    return plug, pull


def _forbidden(bench: WiredBench, joined: Sequence[Mated]) -> Iterator[Forbidden]:
    """The pack with plus on minus, where nothing but an eye stands against that."""
    family = plug_family(bench.plug("model.main").family)
    if family.keyed and not family.wired_either_way:
        return
    last = joined[-1]
    crossed = (*joined[:-1], Mated(last.a, last.b, crossed=True))
    why = "goes in either way round" if not family.keyed else "is sold with plus on either pin"
    yield forbidden(
        "reversed",
        "Plus on minus",
        f"{upper_first(family.name)} {why}: the controller burns at once.",
        bench,
        crossed,
    )

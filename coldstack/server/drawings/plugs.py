"""The plugs as they look, and which one it is."""

from __future__ import annotations

from coldstack.core.chain.plugs import PlugFamily, plug_families, plug_family, polarity_caution
from coldstack.core.drawings.faces import (
    MEASURES,
    Face,
    face_of,
    look_apart,
    looks_like,
    mates_of,
    told_apart,
    which_plug,
)
from coldstack.core.drawings.which import which_words
from coldstack.server.api.values import figures
from coldstack.server.drawings import replies as r
from coldstack.server.drawings import schemas as s


def plugs_out() -> list[r.PlugOut]:
    """Every family, one's own too."""
    return [_plug_out(f) for f in plug_families().values()]


def which_plug_out(data: s.WhichPlugIn) -> r.WhichPlugOut:
    """Families that fit.

    Raises
    ------
    DomainError
        For a family that is not there.
    """
    measured = {name: mm for name in MEASURES if (mm := getattr(data, name)) is not None}
    found = which_plug(shape=data.shape, single=data.single, measured_mm=measured)
    if data.mates_with is not None:
        mates = mates_of(data.mates_with)
        found = [x for x in found if x.family in mates]
    return r.WhichPlugOut(
        likely=[
            r.PlugLikeOut(id=x.family, name=plug_family(x.family).name, sentence=x.sentence) for x in found
        ],
        sentence=which_words(
            found,
            told=bool(measured or data.shape or data.single is not None or data.mates_with is not None),
        ),
    )


def _plug_out(f: PlugFamily) -> r.PlugOut:
    face = face_of(f.id)
    return r.PlugOut(
        id=f.id,
        name=f.name,
        face=None if face is None else _face_out(face),
        continuous_a=f.continuous_a,
        burst_a=f.burst_a,
        polarity=polarity_caution(f.id),
        halves_alike=f.alike,
        mates=[plug_family(x).name for x in mates_of(f.id) if x != f.id],
        alike=[
            r.TakenForOut(id=x, name=plug_family(x).name, telling=_telling(f.id, x)) for x in looks_like(f.id)
        ],
    )


def _face_out(face: Face) -> r.FaceOut:
    return r.FaceOut(**figures(face), single=face.single, contacts=list(face.contacts))


def _telling(one: str, other: str) -> str:
    """In words; empty where no measure of one of them is known."""
    mine, yours = face_of(one), face_of(other)
    if mine is None or yours is None:
        return ""
    found = told_apart(mine, yours)
    by_rule = "" if found is None else found.sentence
    return " ".join(x for x in (look_apart(mine, yours), by_rule) if x)

"""What one says of a pack by hand: a state, a note, a check, a look, a step of retiring; and takes back."""

from __future__ import annotations

from collections.abc import Sequence

from django.db import transaction

from coldstack.core.charging.inspection import known_sign
from coldstack.core.errors import DomainError
from coldstack.core.keeping.records import capacity_by_charge, typed_resistances
from coldstack.core.keeping.retire import is_retired
from coldstack.core.life.wording import STATE_WORDS
from coldstack.core.readings.cells import typed_reading
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.server.gear.models import OwnedPack
from coldstack.server.keeping import replies as r
from coldstack.server.life.log import new_key, packs_by_tag, say, set_withdrawn, was
from coldstack.server.life.models import Event
from coldstack.server.life.now import standing_of, standings
from coldstack.server.life.replies import SaidOut
from coldstack.server.life.volts import volts_said
from coldstack.server.rules.assemble import rules_or_house


@transaction.atomic
def leave(data: r.LeftIn) -> SaidOut:
    """Note that these packs were left in a state now.

    Raises
    ------
    DomainError
        For a pack that is not there; nothing is noted then.
    """
    found, key = packs_by_tag(data.packs), data.key or new_key()
    made = [
        say(found[t], "state", key=f"{key}:{found[t]}", at=was(data.at), state=data.state) for t in data.packs
    ]
    return SaidOut(events=[e.pk for e in made], label=f"{', '.join(data.packs)}: {STATE_WORDS[data.state]}")


@transaction.atomic
def charged(data: r.ChargedIn) -> SaidOut:
    """Note that these packs were charged full by hand, from what they read before it.

    Raises
    ------
    DomainError
        For a pack that is not there or charges on a linked charger, or mAh of several together.
    """
    if data.put_in_mah is not None and len(data.packs) > 1:
        raise DomainError("put_in_mah", "What several took together says nothing of each.")
    packs_by_tag(data.packs)
    rules, key, made = rules_or_house(None), data.key or new_key(), []
    found = {s.tag: s for s in standings(tags=data.packs)}
    for tag in data.packs:
        s = found[tag]
        if s.now.told.charging is not None:
            raise DomainError(
                "packs", f"{tag} charges on a linked charger, which says itself when it is full."
            )
        before, holds = s.now.reading, None
        if data.put_in_mah is not None and before is not None:
            soc = sum(before.socs) / len(before.socs)
            full = for_chemistry(rules, s.pack.chemistry).start_soc
            holds = capacity_by_charge(data.put_in_mah, soc, full)
        event = say(
            s.pk,
            "charge",
            key=f"{key}:{tag}",
            at=was(data.at),
            ended="done",
            mah=data.put_in_mah,
            capacity_ah=holds,
        )
        made.append(event.pk)
    return SaidOut(events=made, label=f"{', '.join(data.packs)}: charged full")


@transaction.atomic
def add_note(tag: str, data: r.NoteIn) -> Event:
    """Note a sentence about a pack; raises DomainError for an empty one, OwnedPack.DoesNotExist for an
    unknown pack."""
    clean = " ".join(data.text.split())
    if not clean:
        raise DomainError("text", "Write a word or two.")
    return say(OwnedPack.live.get(tag=tag).pk, "note", key=data.key or new_key(), at=was(data.at), text=clean)


@transaction.atomic
def note_check(tag: str, data: r.CheckIn) -> SaidOut:
    """Keep a check by hand: a reading, or where something was put in a charge.

    Raises
    ------
    DomainError
        For cells or resistances that cannot be understood, or nothing at all.
    OwnedPack.DoesNotExist
        For an unknown pack.
    """
    row, rules = OwnedPack.live.get(tag=tag), rules_or_house(None)
    cells = data.cells.strip()
    if not cells and not data.mohm.strip():
        raise DomainError("cells", "Type the cells’ volts, their resistances, or both.")
    if data.put_in_mah is not None and not cells:
        words = "Type the cells’ volts before the charge: what it put in says nothing without them."
        raise DomainError("cells", words)
    reading = typed_reading(row.chemistry, row.series, cells, rules) if cells else None
    mohm = typed_resistances(data.mohm, row.series) if data.mohm.strip() else None
    soc = sum(reading.socs) / len(reading.socs) if reading else None
    held_ah = None
    if data.put_in_mah is not None and soc is not None:
        held_ah = capacity_by_charge(data.put_in_mah, soc, for_chemistry(rules, row.chemistry).start_soc)
    charged = data.put_in_mah is not None
    made = say(
        row.pk,
        "charge" if charged else "reading",
        key=data.key or new_key(),
        at=was(data.at),
        temperature_c=data.temperature_c,
        soc=soc,
        cell_mohm=mohm,
        **volts_said(reading),
        capacity_ah=held_ah,
        mah=data.put_in_mah,
        balance_min=data.balance_min,
        ended="done" if charged else "",
    )
    kept = (("cells", reading), ("resistances", mohm), ("a charge", charged))
    return SaidOut(
        events=[made.pk], label=f"Kept for {tag}: " + ", ".join(words for words, there in kept if there)
    )


@transaction.atomic
def inspect(tag: str, data: r.VisualCheckIn) -> SaidOut:
    """Somebody looked at a pack and felt it: sound, or with these signs.

    Raises
    ------
    DomainError
        For a sign that is not known, or a pack that is not there.
    """
    signs = [known_sign(s) for s in dict.fromkeys(data.signs)]
    pk = packs_by_tag([tag], "pack")[tag]
    warm = any(s.outcome == "wait" for s in signs)
    made = say(
        pk,
        "inspection",
        key=data.key or new_key(),
        at=was(data.at),
        signs=[s.id for s in signs],
        at_room=data.at_room and not warm,
        temperature_c=data.temperature_c,
    )
    what = ", ".join(s.name.lower() for s in signs) or "sound"
    return SaidOut(events=[made.pk], label=f"{tag}: {what}")


@transaction.atomic
def tick_retirement(tag: str, data: r.RetirementIn) -> Event:
    """Keep which steps of retiring were done; with the last one the pack is retired, and taken back it is
    not.

    Raises
    ------
    DomainError
        For a step that is not one, or the last one while the pack is in use.
    OwnedPack.DoesNotExist
        For an unknown pack.
    """
    found = standing_of(tag)
    is_retired(found.pack, data.ticked)
    return say(found.pk, "retirement", key=data.key or new_key(), steps=list(dict.fromkeys(data.ticked)))


@transaction.atomic
def take_back(ids: Sequence[int], *, withdrawn: bool) -> SaidOut:
    """Withdraw what was said, or bring it back; raises DomainError as `set_withdrawn`."""
    rows = set_withdrawn(ids, withdrawn=withdrawn)
    tags = ", ".join(sorted({e.pack.tag for e in rows}))
    return SaidOut(events=[e.pk for e in rows], label=f"{tags}: {'taken back' if withdrawn else 'as it was'}")

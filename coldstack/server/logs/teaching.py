"""What a log teaches of a pack of one's own: offered, taken, taken back."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.db import transaction
from pydantic import TypeAdapter, ValidationError

from coldstack.core.errors import DomainError
from coldstack.core.logs.learning import learn
from coldstack.core.logs.reader import read_table
from coldstack.core.packs.keys import owned_key
from coldstack.core.packs.pack import LogFindings, check_learnt
from coldstack.server.gear.actions import record
from coldstack.server.gear.assemble import OWNED_FIGURES, pack_of
from coldstack.server.gear.models import Change, OwnedPack
from coldstack.server.logs import schemas as s
from coldstack.server.logs.reading import understood


def taught_out(raw: bytes, chosen: s.ChosenIn | None, tag: str, name: str, air_c: float) -> s.LogFitOut:
    """What a log tells of the pack with this tag. Nothing is kept.

    Raises
    ------
    DomainError
        For no such pack, or a log that tells nothing of it.
    """
    row = _row(tag)
    pack = pack_of(row, owned_key(tag))
    look, taken, _ = understood(raw, chosen)
    if look.missing:
        raise DomainError("log", f"The log’s {' and '.join(look.missing)} must be known first.")
    found = learn(read_table(look.table, taken), pack, air_c=air_c, source=name[:120])
    return s.LogFitOut(
        tag=tag,
        name=pack.name,
        learnt=found.learnt,
        fit_mv=1000 * found.fit_v,
        untold=list(found.untold),
        typed_mohm=pack.cell_mohm,
        label_ah=pack.capacity_ah,
        before=stored_learnt(row["learnt"]),
        working=found.working,
    )


@transaction.atomic
def keep_learnt(tag: str, learnt: s.LogFindingsIn | None) -> Change:
    """Keep what a log taught of a pack, or forget it; can be undone.

    Raises
    ------
    DomainError
        For no such pack, or figures that cannot be.
    """
    value = None if learnt is None else asdict(check_learnt(LogFindings(**learnt.model_dump())))
    row = _row(tag)
    item = OwnedPack.live.get(pk=row["id"])
    before, item.learnt = item.learnt, value
    item.save(update_fields=["learnt", "updated"])
    label = f"Pack {tag} goes by its log" if value else f"Pack {tag} goes by its label and readings again"
    return record(label, [{"kind": "packs", "id": item.pk, "before": {"learnt": before}}])


_STORED = TypeAdapter(LogFindings)


def stored_learnt(value: Any) -> LogFindings | None:
    """What is stored; None for nothing, or what no longer makes sense."""
    if not value:
        return None
    try:
        return _STORED.validate_python(value)
    except ValidationError:
        return None


def _row(tag: str) -> dict[str, Any]:
    row = OwnedPack.live.filter(tag=tag).values("id", "tag", *OWNED_FIGURES).first()
    if row is None:
        raise DomainError("pack", f"There is no pack {tag} in the box.")
    return dict(row)

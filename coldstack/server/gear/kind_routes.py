"""The same five verbs for every kind of gear, each typed by its own shape: list, add, change, copy, delete."""

# Annotations are values here (no `from __future__`): ninja reads each kind's shape from them.

from typing import Any, Optional

from django.http import HttpRequest
from ninja import Router, Status
from pydantic import BaseModel, create_model

from coldstack.server.api.access import FromOurPage
from coldstack.server.api.errors import Problem
from coldstack.server.gear import actions
from coldstack.server.gear.kinds import KINDS, Kind, row_of
from coldstack.server.gear.models import Change, Gear
from coldstack.server.gear.schemas import ChangeOut, RemovedOut, SeveralIn, TwinOut
from coldstack.server.sizing.schemas import In

router = Router(tags=["gear"])
REFUSALS = frozenset({400, 403, 404, 422})


def _install(kind: Kind) -> None:
    """Hang one kind's verbs on the router."""
    shape = kind.schema
    stem = shape.__name__.removesuffix("In")
    row_shape = create_model(f"{stem}Row", __base__=shape, __doc__=f"A stored {kind.one}.", id=(int, ...))
    kept_shape = create_model(f"{stem}Kept", __base__=BaseModel, __doc__=f"A stored {kind.one}, and the change that made it so.", row=(row_shape, ...), change=(ChangeOut, ...))  # fmt: skip
    # made at run time, so that no annotation can be written with a bar
    optional: Any = {n: (Optional[f.annotation], None) for n, f in shape.model_fields.items()}  # noqa: UP045
    part_shape = create_model(f"{stem}Part", __base__=In, __doc__=f"Some fields of a {kind.one}.", **optional)
    address = f"/gear/{kind.id}"

    def out(item: Gear) -> BaseModel:
        return row_shape(id=item.pk, **row_of(kind, item))

    def kept(item: Gear, change: Change) -> BaseModel:
        return kept_shape(row=out(item), change=_change(change))

    def all_rows(request: HttpRequest) -> list[BaseModel]:
        """One query."""
        return [out(item) for item in kind.model.live.all()]

    def add(request: HttpRequest, data: shape) -> Status[BaseModel]:  # type: ignore[valid-type]
        """Refused, with the field named, if a figure cannot be."""
        return Status(201, kept(*actions.add(kind, data)))

    def change(request: HttpRequest, row_id: int, data: shape) -> BaseModel:  # type: ignore[valid-type]
        """All fields are replaced."""
        return kept(*actions.change(kind, row_id, data))

    def change_some(request: HttpRequest, row_id: int, data: part_shape) -> BaseModel:
        """The fields given are replaced; the others stay as they are by now."""
        return kept(*actions.change_some(kind, row_id, data.model_dump(exclude_unset=True)))

    def copy(request: HttpRequest, row_id: int) -> Status[BaseModel]:
        """Under a free tag or name."""
        return Status(201, kept(*actions.copy(kind, row_id)))

    def remove(request: HttpRequest, row_id: int) -> RemovedOut:
        """It can be undone; a log keeps its pack."""
        return RemovedOut(change=_change(actions.remove(kind, row_id)))

    def remove_several(request: HttpRequest, data: SeveralIn) -> RemovedOut:
        """All or none, and undone in one step."""
        return RemovedOut(change=_change(actions.remove_many(kind, data.ids)))

    def twin(request: HttpRequest, row_id: int) -> TwinOut:
        """What a twin shares, under a free tag or name. Nothing is stored."""
        own = [kind.key, *kind.own]
        return TwinOut(row=actions.twin(kind, row_id), asked=own)

    ours = FromOurPage()
    name = kind.id
    # before the addresses of single rows, which would take its last word for an id
    router.post(
        address + "/remove",
        response={200: RemovedOut, REFUSALS: Problem},
        auth=ours,
        summary=f"Delete several: {kind.many}",
        operation_id=f"delete_several_{name}",
    )(remove_several)
    router.get(address, response=list[row_shape], summary=f"All {kind.many}", operation_id=f"list_{name}")(
        all_rows
    )
    router.post(
        address,
        response={201: kept_shape, REFUSALS: Problem},
        auth=ours,
        summary=f"Add: {kind.one}",
        operation_id=f"add_{name}",
    )(add)
    router.put(
        address + "/{row_id}",
        response={200: kept_shape, REFUSALS: Problem},
        auth=ours,
        summary=f"Change: {kind.one}",
        operation_id=f"change_{name}",
    )(change)
    router.patch(
        address + "/{row_id}",
        response={200: kept_shape, REFUSALS: Problem},
        auth=ours,
        summary=f"Change some fields: {kind.one}",
        operation_id=f"change_some_{name}",
    )(change_some)
    router.post(
        address + "/{row_id}/copy",
        response={201: kept_shape, REFUSALS: Problem},
        auth=ours,
        summary=f"Copy: {kind.one}",
        operation_id=f"copy_{name}",
    )(copy)
    router.get(
        address + "/{row_id}/twin",
        response={200: TwinOut, 404: Problem},
        summary=f"What a twin shares: {kind.one}",
        operation_id=f"twin_{name}",
    )(twin)
    router.delete(address + "/{row_id}", response={200: RemovedOut, REFUSALS: Problem}, auth=ours, summary=f"Delete: {kind.one}", operation_id=f"delete_{name}")(remove)  # fmt: skip


def _change(change: Change) -> ChangeOut:
    return ChangeOut(id=change.pk, label=change.label)


for _kind in KINDS.values():
    _install(_kind)

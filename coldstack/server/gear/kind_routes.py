"""The same five verbs for every kind of gear, each typed by its own shape: list, add, change, copy,
delete."""

# Annotations are values here (no `from __future__`): ninja reads each kind's shape from them.

from dataclasses import dataclass
from typing import Any, Optional

from django.http import HttpRequest
from ninja import Router, Status
from pydantic import BaseModel, create_model

from coldstack.server.api.errors import Problem
from coldstack.server.api.versions import ANY, MadeFrom, version_of
from coldstack.server.gear import actions
from coldstack.server.gear.kinds import KINDS, GearKind, row_of
from coldstack.server.gear.models import Change, Gear
from coldstack.server.gear.schemas import ChangeOut, RemovedOut, SeveralIn, TwinOut
from coldstack.server.sizing.schemas import In

router = Router(tags=["gear"])
REFUSALS = frozenset({400, 403, 404, 422})


@dataclass(frozen=True, slots=True)
class _Shapes:
    """What a kind's rows look like over the API: stored, with the change that made them so, in part."""

    row: type[BaseModel]
    kept: type[BaseModel]
    part: type[BaseModel]


def _shapes(kind: GearKind) -> _Shapes:
    shape = kind.schema
    stem = shape.__name__.removesuffix("In")
    row = create_model(
        f"{stem}Row", __base__=shape, __doc__=f"A stored {kind.one}.", id=(int, ...), version=(str, ...)
    )
    kept = create_model(
        f"{stem}Kept",
        __base__=BaseModel,
        __doc__=f"A stored {kind.one}, and the change that made it so.",
        row=(row, ...),
        change=(ChangeOut, ...),
    )
    # made at run time, so that no annotation can be written with a bar
    optional: Any = {n: (Optional[f.annotation], None) for n, f in shape.model_fields.items()}  # noqa: UP045
    part = create_model(f"{stem}Part", __base__=In, __doc__=f"Some fields of a {kind.one}.", **optional)
    return _Shapes(row, kept, part)


def _install(kind: GearKind) -> None:
    """Hang one kind's verbs on the router."""
    shapes = _shapes(kind)
    # before the addresses of single rows, which would take its last word for an id
    _install_several(kind)
    _install_reading(kind, shapes)
    _install_making(kind, shapes)
    _install_changing(kind, shapes)


def _install_several(kind: GearKind) -> None:
    @router.post(
        f"/gear/{kind.id}/remove",
        response={200: RemovedOut, REFUSALS: Problem},
        summary=f"Delete several: {kind.many}",
        operation_id=f"delete_several_{kind.id}",
    )
    def remove_several(request: HttpRequest, data: SeveralIn) -> RemovedOut:
        """All or none, and undone in one step."""
        return RemovedOut(change=_change(actions.remove_many(kind, data.ids)))


def _install_reading(kind: GearKind, shapes: _Shapes) -> None:
    row_shape = shapes.row

    @router.get(
        f"/gear/{kind.id}",
        response=list[row_shape],  # type: ignore[valid-type]
        summary=f"All {kind.many}",
        operation_id=f"list_{kind.id}",
    )
    def all_rows(request: HttpRequest) -> list[BaseModel]:
        """One query."""
        return [_row(kind, shapes, item) for item in kind.model.live.all()]


def _install_making(kind: GearKind, shapes: _Shapes) -> None:
    address, shape = f"/gear/{kind.id}", kind.schema

    @router.post(
        address,
        response={201: shapes.kept, REFUSALS: Problem},
        summary=f"Add: {kind.one}",
        operation_id=f"add_{kind.id}",
    )
    def add(request: HttpRequest, data: shape) -> Status[BaseModel]:  # type: ignore[valid-type]
        """Refused, with the field named, if a figure cannot be."""
        return Status(201, _kept(kind, shapes, *actions.add(kind, data)))

    @router.post(
        address + "/{row_id}/copy",
        response={201: shapes.kept, REFUSALS: Problem},
        summary=f"Copy: {kind.one}",
        operation_id=f"copy_{kind.id}",
    )
    def copy(request: HttpRequest, row_id: int) -> Status[BaseModel]:
        """Under a free tag or name."""
        return Status(201, _kept(kind, shapes, *actions.copy(kind, row_id)))

    @router.get(
        address + "/{row_id}/twin",
        response={200: TwinOut, 404: Problem},
        summary=f"What a twin shares: {kind.one}",
        operation_id=f"twin_{kind.id}",
    )
    def twin(request: HttpRequest, row_id: int) -> TwinOut:
        """What a twin shares, under a free tag or name. Nothing is stored."""
        return TwinOut(row=actions.twin(kind, row_id), asked=[kind.key, *kind.own])


def _install_changing(kind: GearKind, shapes: _Shapes) -> None:
    address, shape = f"/gear/{kind.id}/{{row_id}}", kind.schema
    part_shape: Any = shapes.part

    @router.put(
        address,
        response={200: shapes.kept, REFUSALS | {412}: Problem},
        summary=f"Change: {kind.one}",
        operation_id=f"change_{kind.id}",
    )
    def change(
        request: HttpRequest,
        row_id: int,
        data: shape,  # type: ignore[valid-type]
        if_match: MadeFrom = ANY,
    ) -> BaseModel:
        """All fields are replaced."""
        return _kept(kind, shapes, *actions.change(kind, row_id, data, if_match))

    @router.patch(
        address,
        response={200: shapes.kept, REFUSALS | {412}: Problem},
        summary=f"Change some fields: {kind.one}",
        operation_id=f"change_some_{kind.id}",
    )
    def change_some(
        request: HttpRequest, row_id: int, data: part_shape, if_match: MadeFrom = ANY
    ) -> BaseModel:
        """The fields given are replaced; the others stay as they are by now."""
        part = data.model_dump(exclude_unset=True)
        return _kept(kind, shapes, *actions.change_some(kind, row_id, part, if_match))

    @router.delete(
        address,
        response={200: RemovedOut, REFUSALS: Problem},
        summary=f"Delete: {kind.one}",
        operation_id=f"delete_{kind.id}",
    )
    def remove(request: HttpRequest, row_id: int) -> RemovedOut:
        """It can be undone; a log keeps its pack."""
        return RemovedOut(change=_change(actions.remove(kind, row_id)))


def _row(kind: GearKind, shapes: _Shapes, item: Gear) -> BaseModel:
    row = row_of(kind, item)
    return shapes.row(id=item.pk, version=version_of(row), **row)


def _kept(kind: GearKind, shapes: _Shapes, item: Gear, change: Change) -> BaseModel:
    return shapes.kept(row=_row(kind, shapes, item), change=_change(change))


def _change(change: Change) -> ChangeOut:
    return ChangeOut.of(change)


for _kind in KINDS.values():
    _install(_kind)

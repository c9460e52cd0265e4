"""The kinds of gear: for each its table, its shape in the API, how it is recognised, and how the core judges
it."""

from __future__ import annotations

import unicodedata
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from coldstack.core.cells.counts import LEAST_SERIES, MOST_SERIES
from coldstack.core.chain.adapters import assumed_awg, check_adapter
from coldstack.core.chain.balance import balance_plug_name
from coldstack.core.chain.own_plugs import check_plug
from coldstack.core.chain.plugs import plug_families
from coldstack.core.charging.charger import assumed_watts, check_charger, check_supply
from coldstack.core.errors import DomainError, faults, refuse
from coldstack.core.fields.common import LEAST_AH, MOST_AH
from coldstack.core.packs.masses import typical_mass_g
from coldstack.core.packs.pack import ASSUMABLE, check_cell_type, check_pack
from coldstack.server.gear import schemas as s
from coldstack.server.gear.assemble import Row, adapter_of, cell_of, charger_of, pack_of, supply_of
from coldstack.server.gear.models import (
    CataloguePack,
    CellType,
    Charger,
    Gear,
    OwnedPack,
    OwnPlug,
    Piece,
    RcModel,
    Supply,
)
from coldstack.server.gear.plugs import plug_of
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import In, JobIn

Fill = Callable[[Row, set[str]], dict[str, Any]]
"""From a row and the fields that were given: the assumed fields with what stands in, None where the row
has it by default."""


@dataclass(frozen=True, slots=True)
class GearKind:
    """One kind of gear. ``key`` is the field by which an import recognises a row; ``check`` raises
    DomainError."""

    id: str
    one: str
    many: str
    model: type[Gear]
    schema: type[In]
    key: str
    check: Callable[[Row], object]
    address: str = ""
    """The field by which others name a row: made from the name, and kept when that changes."""
    own: tuple[str, ...] = ()
    """Fields that a twin does not share: what is written on one piece, or measured of it."""
    fill: Fill | None = None
    """What stands in for figures that nobody gave."""

    @property
    def fields(self) -> tuple[str, ...]:
        """The fields of its shape, in order."""
        return tuple(self.schema.model_fields)

    def label(self, row: Row) -> str:
        """A row by the name one calls it."""
        return f"{row['tag']} {row['name']}" if "tag" in row else str(row["name"])


def _fill_pack(row: Row, given: set[str]) -> dict[str, Any]:
    silent: dict[str, Any] = {f: None for f in ASSUMABLE if row["assumed"] is None and f not in given}
    if (
        row["mass_g"] is None
        and LEAST_SERIES <= row["series"] <= MOST_SERIES
        and LEAST_AH <= row["capacity_ah"] <= MOST_AH
    ):
        usual_g = typical_mass_g(row["chemistry"], row["series"], row["capacity_ah"], row["label_c"])
        silent["mass_g"] = float(f"{usual_g:.3g}")
    return silent


def _fill_charger(row: Row, given: set[str]) -> dict[str, Any]:
    return dict(assumed_watts(row["port_w"], row["mains_w"], row["dc_w"], max(row["ports"], 1)))


BALANCE_AWG = 26.0
"""Gauge of balance wires. [AWG]"""


def _fill_piece(row: Row, given: set[str]) -> dict[str, Any]:
    if row["awg"] is None and row["kind"] == "balance":
        row["awg"] = BALANCE_AWG  # it has no main wires; nothing rests on this
    if row["awg"] is not None:
        return {}
    return {"awg": assumed_awg(f for f in (row["pack_plug"], row["device_plug"]) if f in plug_families())}


def _check_piece(row: Row) -> None:
    refuse(faults(lambda: _check_ends(row), lambda: _check_balance_side(row)))


def _check_ends(row: Row) -> None:
    if row["kind"] == "balance":
        if not row["balance_from"] or not row["balance_out"]:
            raise DomainError(
                "balance_from", "A balance adapter needs the family it takes and the one it brings out."
            )
        return
    sides = [f for f in ("pack_plug", "device_plug") if not row[f]]
    refuse([DomainError(field, "Choose the plug on this side.") for field in sides])
    check_adapter(adapter_of(row))


def _check_balance_side(row: Row) -> None:
    for family in (*row["balance_from"], *([row["balance_out"]] if row["balance_out"] else [])):
        balance_plug_name(family)
    if row["balance_out"] and row["balance_cells"] < 1:
        raise DomainError("balance_cells", "Say for how many cells its balance side is made.")


def _check_owned(row: Row) -> None:
    refuse(faults(lambda: _check_tag(row["tag"]), lambda: check_pack(pack_of(row, ""))))


def _check_tag(tag: str) -> None:
    if any(unicodedata.category(letter) == "Cc" for letter in tag):
        raise DomainError("tag", "A tag is one line of letters and figures, as it is written on the pack.")


def _check_model(row: Row) -> object:
    return job_of(JobIn(**row["job"]))


KINDS: dict[str, GearKind] = {
    k.id: k
    for k in (
        GearKind(
            "plugs",
            "plug",
            "plugs",
            OwnPlug,
            s.PlugIn,
            "name",
            lambda r: check_plug(plug_of(r)),
            address="code",
        ),
        GearKind(
            "packs",
            "pack",
            "packs",
            OwnedPack,
            s.PackIn,
            "tag",
            _check_owned,
            own=("cell_mohm", "fit", "unknown_past", "note"),
            fill=_fill_pack,
        ),
        GearKind("models", "model", "models", RcModel, s.ModelIn, "name", _check_model, address="slug"),
        GearKind(
            "chargers",
            "charger",
            "chargers",
            Charger,
            s.ChargerIn,
            "name",
            lambda r: check_charger(charger_of(r)),
            own=("note",),
            fill=_fill_charger,
        ),
        GearKind(
            "supplies", "supply", "supplies", Supply, s.SupplyIn, "name", lambda r: check_supply(supply_of(r))
        ),
        GearKind(
            "pieces",
            "adapter, lead or board",
            "adapters, leads and boards",
            Piece,
            s.PieceIn,
            "name",
            _check_piece,
            fill=_fill_piece,
        ),
        GearKind(
            "cells",
            "cell type",
            "cell types",
            CellType,
            s.CellTypeIn,
            "name",
            lambda r: check_cell_type(cell_of(r)),
        ),
        GearKind(
            "catalogue",
            "catalogue pack",
            "catalogue packs",
            CataloguePack,
            s.CataloguePackIn,
            "name",
            lambda r: check_pack(pack_of(r, "")),
            fill=_fill_pack,
        ),
    )
}


def kind_of(kind_id: str) -> GearKind:
    """The kind with this id; raises DomainError for an unknown one."""
    if kind_id not in KINDS:
        raise DomainError("kind", f"Gear is one of {', '.join(KINDS)}, not “{kind_id}”.")
    return KINDS[kind_id]


def row_of(kind: GearKind, item: Gear) -> Row:
    """A stored row in the shape of its kind."""
    return {name: getattr(item, name) for name in kind.fields}


def clean(kind: GearKind, data: Any) -> Row:
    """Plain values of an input of this kind, after the core has accepted them.

    Raises
    ------
    pydantic.ValidationError
        For what has not the kind's shape.
    DomainError
        For figures that cannot be.
    """
    shaped = data if isinstance(data, kind.schema) else kind.schema.model_validate(data)
    row: Row = shaped.model_dump(mode="json")
    if kind.fill is not None:
        told = row["assumed"] or []
        stand_in = kind.fill(row, shaped.model_fields_set)
        row |= {name: value for name, value in stand_in.items() if value is not None}
        row["assumed"] = list(dict.fromkeys([*told, *stand_in]))
    kind.check(row)
    return row

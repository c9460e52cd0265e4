"""Versions of stored documents: a write says which one it was made from, and is refused if that is not the
latest."""

from __future__ import annotations

import hashlib
from typing import Annotated, Any

import orjson
from ninja import Header

MadeFrom = Annotated[str, Header(alias="If-Match", max_length=80)]
"""The version that a write was made from; "*", or left out, takes any."""
ANY = "*"


class ChangedElsewhere(Exception):
    """The document is not as it was when this write was made from it."""


def version_of(document: Any) -> str:
    """A short name of a document's content: the same for the same, whoever wrote it and when."""
    return hashlib.sha256(orjson.dumps(document, option=orjson.OPT_SORT_KEYS)).hexdigest()[:16]


def require_latest(made_from: str, document: Any) -> None:
    """Refuse a write that was made from another version. To be called within the transaction that writes.

    Raises
    ------
    ChangedElsewhere
        If ``made_from`` is not the document's version.
    """
    if made_from.strip() != ANY and made_from.strip().strip('"') != version_of(document):
        raise ChangedElsewhere

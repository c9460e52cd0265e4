"""Chance from a seed: the same on every machine."""

from __future__ import annotations

from collections.abc import Sequence
from hashlib import blake2b
from typing import TypeVar

import numpy as np

T = TypeVar("T")


class Chance:
    """Draws that follow from words and numbers alone: PCG64, whose stream NumPy keeps as it is."""

    def __init__(self, *of: str | int) -> None:
        seed = blake2b(repr(of).encode(), digest_size=16).digest()
        self._rng = np.random.Generator(np.random.PCG64(int.from_bytes(seed, "big")))

    def one_of(self, among: Sequence[T]) -> T:
        """One of them, each as likely."""
        return among[int(self._rng.integers(len(among)))]

    def mixed(self, of: Sequence[T]) -> list[T]:
        """All of them, in any order."""
        return [of[int(k)] for k in self._rng.permutation(len(of))]

    def between(self, low: float, high: float) -> float:
        """A number, each as likely."""
        return float(self._rng.uniform(low, high))

    def happens(self, share: float) -> bool:
        """Whether something of this share happens."""
        return float(self._rng.random()) < share

"""A label as it was read: each field with the words it came from."""

from __future__ import annotations

from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class LabelFinding:
    """One field as found: its value and the words of the label."""

    name: str
    value: float | str
    words: str


@dataclass(slots=True)
class LabelReading:
    """Fields by name (units in the names, as in `Pack`), what contradicts what, what was filled in, what
    is missing.

    ``words`` says where each value came from. Amps, Wh and volts are kept beside the pack's own fields,
    to check them.
    """

    values: dict[str, float | str] = field(default_factory=dict)
    words: dict[str, str] = field(default_factory=dict)
    contradictions: list[str] = field(default_factory=list)
    filled: list[str] = field(default_factory=list)
    missing: list[str] = field(default_factory=list)
    asked: dict[str, str] = field(default_factory=dict)
    """By field: what the label may mean, and only its owner can say."""
    unread: str = ""

    @classmethod
    def of(cls, seen: list[LabelFinding], asked: dict[str, str]) -> LabelReading:
        """The first finding of each field; a second, different one is a contradiction."""
        reading = cls(asked=dict(asked))
        for found in seen:
            old = reading.values.get(found.name)
            if old is None:
                reading.add(found.name, found.value, found.words)
            elif differs(old, found.value):
                reading.contradictions.append(
                    f"The label says both “{reading.words[found.name]}” and “{found.words}”."
                )
        return reading

    def add(self, name: str, value: float | str, words: str) -> None:
        """Set a field and where it comes from."""
        self.values[name] = value
        self.words[name] = words

    def number(self, name: str) -> float | None:
        """A numeric field, or None."""
        value = self.values.get(name)
        return float(value) if isinstance(value, int | float) else None


def differs(a: float | str, b: float | str) -> bool:
    """Whether two readings of one thing disagree by more than rounding."""
    if isinstance(a, str) or isinstance(b, str):
        return a != b
    return abs(a - b) > 0.02 * max(abs(a), abs(b))

"""What a person does about an alarm, in order."""

from __future__ import annotations

from coldstack.core.watching.alarm import (
    CANNOT_JUDGE,
    DANGERS,
    LOOK,
    LOST,
    NOT_JUDGED,
    PULL_PLUG,
    UNBELIEVABLE,
)
from coldstack.core.watching.strangers import STRANGER

_AT_THE_PACK = (
    "Do not lean over it. Hot, hissing or swelling: leave it, close the door, call the fire service.",
    "If it is quiet, pull the charger’s plug, then the pack’s balance plug and main plug.",
    "Carry it outside on something that does not burn, away from what does, and watch it for half an hour.",
    "Then look and feel, and note what you find: it stays set apart until you do.",
)
_TODO: dict[str, tuple[str, ...]] = {
    "link_lost": ("Go to the charger and look at it.", "Stop it there if anything is not as it should be."),
    LOOK: ("Touch the pack: cool and flat? Say that you looked.",),
    "warm": ("Touch the pack now. Warmer than your hand: stop it.",),
    "away": ("Touch the pack: cool and flat? Say that you looked.",),
    "weak_cell": ("Stay with it; look at its cells and resistances afterwards.",),
    "supply_sag": ("Look at the supply and its leads.",),
    "unattended": ("Look at the pack before you start it again.",),
    "timer": ("Look at the pack: it took longer than it should.",),
    "unread": ("Stop it at the charger, and start it anew.",),
    UNBELIEVABLE: ("Go to the charger, look at the pack, and check the balance plug and the link.",),
    "miscount": ("Stop it at the charger, and look at the pack.",),
    "clock": ("Stop it at the charger, and look at the pack.",),
    CANNOT_JUDGE: ("Go to the charger and touch the pack; stop it there.",),
    NOT_JUDGED: ("Go to the charger and touch the pack; stop it there.", "Then start the program anew."),
    LOST: (
        "See at the charger that nothing flows.",
        "Touch the pack: cool and flat? Say that you saw to it.",
    ),
    PULL_PLUG: (
        "Pull the charger’s plug out of the wall or off the battery, now.",
        *_AT_THE_PACK[:1],
        "Then say that you pulled it: until then the charge stays open, and its packs taken.",
    ),
    STRANGER: (
        "Go to the charger and see what charges there.",
        "Stop it; or say which pack it is and stay with it: it is watched here from then on.",
    ),
}


def what_to_do(alarm_id: str, *, over: bool) -> tuple[str, ...]:
    """What a person does now, in order. After a danger it is the pack that counts, over or not."""
    if alarm_id in DANGERS:
        return _AT_THE_PACK
    return () if over and alarm_id != LOST else _TODO.get(alarm_id, ("Go to the charger and look.",))

"""How many cells a pack of the hobby can have in series, and how many strings side by side."""

from __future__ import annotations

LEAST_SERIES, MOST_SERIES = 1, 28
"""Two 14S packs in series, or the longest NiMH sticks; more is a slip of the finger. House figures."""
USUAL_SERIES = 14
"""Up to so many are looked at where nobody said how many. House figure."""
MOST_STRINGS = 40
"""Of packs built from cylindrical cells. House figure."""

"""Pauses of a log: the meter was switched off for a while."""

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.logs.cleaning import cleaned


def notes_of(gap_s):
    """What is noted of a log of half seconds with one gap in its middle."""
    steps = np.full(400, 0.5)
    steps[200] = gap_s
    time_s = np.concatenate(([0.0], np.cumsum(steps)))
    amps = np.where(np.arange(401) % 40 < 20, 8.0, 22.0)
    notes: list[str] = []
    cleaned(time_s, 15.4 - amps * 0.02, amps, notes, free_scale=False)
    return [n for n in notes if "pause" in n]


class Pauses(SimpleTestCase):
    def test_at_and_over_twenty_seconds(self):
        """A gap of twenty seconds is a slow meter's; a longer one is a pause, and is left out."""
        self.assertEqual(notes_of(20.0), [])
        self.assertEqual(notes_of(20.5), ["1 pause without samples, 20 s in all, left out."])

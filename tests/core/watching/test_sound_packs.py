"""No sound pack is stopped, and no honest charger alarms: by the program's own physics."""

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from tests.core.watching.attended import Meter, sound_pack, tally, watched
from tests.thorough import many

COUNT = many(20, 1)
"""Of each chemistry; ``python -m bench.false_alarms`` takes two thousand."""
HOURS = many(3, 1)


class Sound(SimpleTestCase):
    def test_of_each_chemistry(self):
        """At the rates that labels print, drawn a little less or more than their labels: none stopped, and
        none even alarmed."""
        for kind in CHEMISTRY_IDS:
            with self.subTest(kind):
                kinds, stopped = tally(kind, COUNT, seed=25)
                self.assertEqual((dict(kinds), stopped), ({}, 0))


class Honest(SimpleTestCase):
    def test_noisy_slow_and_bouncing(self):
        """Each manner of a meter, or twenty of them, for three hours of their time: no alarm."""
        chance = np.random.default_rng(20)
        manners = (
            Meter(volts=0.003, kelvin=0.5, amps=0.03),
            Meter(every_s=12.0),
            Meter(bounce=0.05),
            Meter(jitter_s=0.8, gain=0.97),
            Meter(volts=0.0, kelvin=0.0, amps=0.0),
        )
        for k in range(many(20, 5)):
            kind = ("lipo", "liion", "lifepo4", "nimh")[k % 4]
            passed_s = 0.0
            while passed_s < 3600 * HOURS:
                sound = sound_pack(kind, chance)
                found = list(watched(sound, manners[k % 5], chance, took := []))
                self.assertEqual([f"{a.id}: {a.sentence}" for a in found], [], (k, kind, sound))
                passed_s += took[-1]

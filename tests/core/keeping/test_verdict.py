"""The line on a pack's page: never an invitation to what another stage refuses."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given, settings

from coldstack.core.keeping.retire import RETIRE_STEPS
from coldstack.core.keeping.storage import due_of
from coldstack.core.keeping.verdict import verdict_words
from tests.core.life.lives import LIVES, NOW, PACK, cells, event
from tests.core.life.test_now import LAZY, SOUND, now_is

READ = [event("reading", 90 + n, cell_mohm=(3.0,) * 4, temperature_c=25.0) for n in range(4)]


def words(*events):
    found = now_is(*events)
    return verdict_words(found, due_of(found, NOW))


class Words(SimpleTestCase):
    def test_each(self):
        """Sound and full, stored, spent, charging, lazy, retired, nobody read it."""
        full = [
            *READ,
            event("reading", 0.6, cell_v=cells(4.19)),
            event("charge", 0.5, ended="done", end_cell_v=cells(4.19)),
            event("inspection", 0.4, at_room=True),
        ]
        for events, said in (
            (full, "Sound: run it, or bring it to storage"),
            ([*SOUND, event("charging", 0.1, charge=7)], "Charging"),
            ([*LAZY, *SOUND], "Retire it"),
            ([*SOUND, event("retirement", 0.1, steps=RETIRE_STEPS)], "Retired"),
            ([*SOUND, event("charge", 0.1, ended="danger")], "Set apart: look at it first"),
            ([], "Not known yet: read its cells"),
        ):
            with self.subTest(said):
                self.assertEqual(words(*events), said)

    def test_spent(self):
        """Sound, and why it cannot be run: the words of Run."""
        spent = [*READ, event("reading", 2, cell_v=cells(3.70)), event("inspection", 1, at_room=True)]
        self.assertEqual(words(*spent), "Sound. It is spent: charge it first")

    @settings(max_examples=60)
    @given(LIVES)
    def test_no_life_is_told_to_run_what_may_not_be_run(self, life):
        """Whatever happened to it."""
        found = now_is(*life)
        said = verdict_words(found, due_of(found, NOW))
        if not found.may["run"].allowed:
            self.assertNotIn("run it", said)


class Unfit(SimpleTestCase):
    def test_swollen(self):
        """Marked so on its form: it is retired, whatever its cells read."""
        found = now_is(*SOUND, pack=replace(PACK, fit=False, note="swollen"))
        self.assertNotIn("run it", verdict_words(found, due_of(found, NOW)))

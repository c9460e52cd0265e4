"""The link between a model and the pack of the box that it runs on."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.trial.job import RunsOn
from coldstack.core.trial.now import looks_like
from coldstack.core.trial.today import as_linked
from tests.core.trial.jobs import job, pack

NOW = RunsOn("lipo", 4, 4.0, 400.0, 35.0, pack="owned:04")
MINE = pack(id="owned:04", owned=True, series=4, capacity_ah=4.0, label_c=35.0)
WANTS = replace(job(), now=NOW)


class Linked(SimpleTestCase):
    def test_it_holds_while_the_pack_is_there(self):
        """The same cells, and no other size by half; a label that was corrected is the same pack."""
        for mine, holds in (
            (MINE, True),
            (replace(MINE, capacity_ah=5.9), True),
            (replace(MINE, capacity_ah=6.1), False),
            (replace(MINE, capacity_ah=2.7), True),
            (replace(MINE, capacity_ah=2.6), False),
            (replace(MINE, series=3), False),
            (replace(MINE, chemistry="lihv"), False),
            (replace(MINE, id="owned:05"), False),
        ):
            self.assertEqual(as_linked(WANTS, [mine]).now.pack != "", holds, mine)
        self.assertIs(as_linked(replace(WANTS, now=None), []).now, None)

    def test_what_looks_like_it(self):
        """Within two per cent of its capacity, and by the C where both are known."""
        for mine, like in (
            (MINE, True),
            (replace(MINE, capacity_ah=4.07), True),
            (replace(MINE, capacity_ah=4.09), False),
            (replace(MINE, label_c=None), True),
            (replace(MINE, label_c=45.0), False),
            (replace(MINE, series=3), False),
        ):
            self.assertEqual(looks_like(NOW, mine), like, mine)

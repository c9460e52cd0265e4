"""The mark by which a page that comes to the front knows whether others wrote meanwhile."""

from django.test import TransactionTestCase

from coldstack.server.gear.models import OwnedPack, RcModel
from tests.demo_world import demo_world
from tests.lives import told


class Mark(TransactionTestCase):
    """Each write is one of its own here, as in the program: a mark tells nothing of one that is not done."""

    def setUp(self):
        demo_world()

    def mark(self):
        return self.client.get("/api/world/mark").json()["mark"]

    def test_it_changes_with_what_is_written_and_with_nothing_else(self):
        """Asked twice it is the same, after plans too; gear, lives and deletions change it."""
        first = self.mark()
        plan = {"job": RcModel.objects.get(slug="ptarmigan").job}
        self.client.post("/api/sizing/plan", plan, content_type="application/json")
        self.assertEqual(self.mark(), first)
        seen = {first}
        pack = OwnedPack.live.get(tag="04")
        for act in (
            lambda: told("04", "reading", cell_v=[3.8] * 4),
            lambda: self.client.patch(
                f"/api/gear/packs/{pack.pk}", {"mass_g": 301}, content_type="application/json"
            ),
            lambda: self.client.delete(f"/api/gear/packs/{OwnedPack.live.get(tag='31').pk}"),
        ):
            act()
            mark = self.mark()
            self.assertNotIn(mark, seen)
            seen.add(mark)

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.charging.charger import Charger, assumed_watts
from coldstack.core.matching.charge import Bench
from coldstack.core.matching.lead import lead_to_get
from coldstack.core.packs.pack import Pack

CHARGER = Charger("1", "Cairn", ("lipo",), 6, 10, 100, mains_w=100)
PACK = Pack("owned:1", "A", "lipo", 3, 2.2, 188, plug="ec3", owned=True)


class Lead(SimpleTestCase):
    def test_it_is_for_the_plug_that_most_packs_carry(self):
        """Of those that it charges and nothing reaches; a pack of another chemistry or an unfit one does
        not count."""
        nimh = [replace(PACK, id=f"n{i}", chemistry="nimh", plug="t_plug") for i in range(3)]
        unfit = [replace(PACK, id=f"u{i}", plug="xt30", fit=False) for i in range(3)]
        lead = lead_to_get(CHARGER, [*nimh, *unfit, PACK], Bench())
        self.assertEqual(lead.ends, (PlugEnd("ec3", "device"), PlugEnd("banana_4", "pack")))
        self.assertEqual(lead.name, "Charge lead 4 mm banana to EC3")

    def test_none_where_everything_is_reached(self):
        """By a lead on the bench, or straight in."""
        lead = Adapter("l", "lead", (PlugEnd("ec3", "device"), PlugEnd("banana_4", "pack")), kind="lead")
        self.assertIsNone(lead_to_get(CHARGER, [PACK], Bench((lead,))))
        self.assertIsNone(lead_to_get(replace(CHARGER, output_plug="ec3"), [PACK], Bench()))

    def test_without_packs_it_is_the_usual_one(self):
        """XT60."""
        self.assertEqual(lead_to_get(CHARGER, [], Bench()).ends[0].family, "xt60")


class AssumedWatts(SimpleTestCase):
    def test_what_stands_in(self):
        """A port's share of the whole, 50 W where nothing is known, the mains where no input is named;
        what is given stays."""
        self.assertEqual(assumed_watts(None, 200, None, 4), {"port_w": 50})
        self.assertEqual(assumed_watts(None, None, 300, 2), {"port_w": 150})
        self.assertEqual(assumed_watts(None, None, None, 2), {"port_w": 50, "mains_w": 100})
        self.assertEqual(assumed_watts(80, None, None, 1), {"mains_w": 80})
        self.assertEqual(assumed_watts(80, 100, None, 2), {})

"""From an empty program: a model and a pack of one's own, to the field and without a line."""

import json

from playwright.sync_api import expect

from coldstack.server.life.models import Event
from tests.screens.test_own_model import RACER, EmptyCase

PACK = {"tag": "Q7", "name": "Mine 5S", "chemistry": "lipo", "series": 5, "capacity_ah": 1.5, "mass_g": 200}
PACK |= {"label_c": 120, "cell_mohm": 3.2, "lead_awg": 12, "plug": "xt60"}
HAS_ANY = """async () => {
  if (!(await indexedDB.databases()).some((d) => d.name === "keyval-store")) return false;
  const asked = (request) => new Promise((done) => { request.onsuccess = () => done(request.result); });
  const kept = await asked(indexedDB.open("keyval-store"));
  const names = await asked(kept.transaction("keyval").objectStore("keyval").getAllKeys());
  kept.close();
  return names.some((name) => name.endsWith("/Q7"));
}"""


class OwnField(EmptyCase):
    def test_without_a_line_on_own_gear(self):
        """Go or no go by the kit, of an own pack in an own model; the run is sent when there is a line."""
        self.open("/new")
        self.choose("multirotor")
        self.answer({**RACER, "Average": "12", "Peak, full stick": "40"})
        self.described()
        self.add()
        token = next(c["value"] for c in self.context.cookies() if c["name"] == "csrftoken")
        headers = {"X-CSRFToken": token, "Content-Type": "application/json", "Origin": self.live_server_url}
        address = f"{self.live_server_url}/api/gear/packs"
        self.assertEqual(
            self.context.request.post(address, data=json.dumps(PACK), headers=headers).status, 201
        )
        self.page.reload()
        self.settled()
        self.page.get_by_role("navigation", name="Stages").get_by_role("link", name="Run").click()
        self.page.get_by_role("button", name="Q7").first.click()
        self.page.wait_for_function(HAS_ANY)
        cells = self.page.get_by_label("Volts of Q7, cells or pack")
        cells.fill("4.19 4.19 4.18 4.19 4.19")
        verdict = self.page.get_by_role("region", name="Go or no go")
        verdict.locator("dd").first.wait_for()
        here = [t.split("\n")[0] for t in verdict.locator("dd").all_inner_texts()]
        self.page.route("**/api/**", lambda route: route.abort())
        cells.fill("4.19 4.18 4.19 4.19 4.19")
        verdict.get_by_text("By the field kit").wait_for()
        self.assertEqual([t.split("\n")[0] for t in verdict.locator("dd").all_inner_texts()], here)
        self.page.get_by_role("button", name="Start the timer").click()
        self.page.get_by_role("button", name="Landed").click()
        self.page.get_by_text("1 run waits here to be sent").wait_for()
        self.page.unroute("**/api/**")
        expect(self.page.get_by_text("waits here to be sent")).to_have_count(0)
        self.assertEqual(Event.standing.filter(kind="run", pack__tag="Q7").count(), 1)

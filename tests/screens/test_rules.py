"""House rules, Safety and tags as a person uses them."""

from coldstack.server.rules.models import RuleSet
from tests.screens.case import ScreenCase


class RulesScreen(ScreenCase):
    def rules(self, search=""):
        self.open(f"/rules{search}")
        self.page.get_by_role("heading", name="What follows now").wait_for()

    def effects(self):
        return self.page.get_by_role("complementary", name="What follows").inner_text()

    def change(self, name, text):
        """Type a rule and wait until it is kept and what follows is there."""
        with self.page.expect_response(lambda r: "/effects" in r.url):
            self.page.get_by_role("textbox", name=name, exact=True).fill(text)
        self.settled()


class Rules(RulesScreen):
    def test_everything_follows_at_once(self):
        """Timer, batches, due dates, verdicts beside the rule; then in Run, Charge and Keep, named by their
        working."""
        self.rules()
        before = self.effects()
        self.change("Use at most", "60")
        self.change("Join in parallel within", "0.005")
        self.change("To storage within", "6")
        self.change("End of flying below", "88")
        after = self.effects()
        for words in ("As it came: 4 batches", "overdue: 05, 06, 15", "light duty: 18"):
            self.assertIn(words, after)
        self.assertNotEqual(before, after)
        self.page.keyboard.press("Escape")
        self.open("/run/ptarmigan?pack=05")
        self.page.get_by_label("Volts of 05, cells or pack").fill("4.2 4.2 4.2 4.2")
        self.page.get_by_role("button", name="Timer: show working").click()
        self.page.get_by_role("dialog").get_by_text("house rules “Steady, changed”").first.wait_for()
        self.page.keyboard.press("Escape")
        self.open("/keep/ptarmigan?pack=18")
        self.page.get_by_text("Light duty only").first.wait_for()
        self.page.get_by_text("3 packs are overdue for storage").wait_for()
        self.open("/charge/ptarmigan")
        self.page.get_by_label("House rules").get_by_text("Steady, changed").wait_for(state="attached")
        self.assert_clean()

    def test_undo_and_set_back(self):
        """One step back; or all at once."""
        self.rules()
        self.change("Use at most", "70")
        self.change("Call it full at", "4.15")
        self.page.get_by_role("button", name="Undo: Call it full at").click()
        self.page.get_by_role("button", name="Set back all 1").wait_for()
        self.page.get_by_role("button", name="Set back all 1").click()
        self.page.get_by_role("heading", name="Steady", exact=True).wait_for()
        self.page.get_by_text("as it came").wait_for(state="detached")
        self.assertEqual(RuleSet.objects.get(slug="steady").values, {})

    def test_refused_at_its_field(self):
        """What was typed stays, nothing is kept, and it says what is possible."""
        self.rules()
        field = self.page.get_by_role("textbox", name="Call it full at", exact=True)
        field.fill("4.3")
        self.page.get_by_text("may be from 4.00 V to 4.20 V, not 4.30 V").wait_for()
        self.assertEqual(field.input_value(), "4.3")
        self.page.get_by_text("Not kept while something below").wait_for()
        self.assertFalse(RuleSet.objects.exists())
        field.fill("4,1")
        self.page.get_by_role("heading", name="Steady, changed").wait_for()

    def test_a_set_of_our_own(self):
        """Copied, named, the shelf kept by it, deleted and brought back."""
        self.rules("?set=field_day")
        self.page.get_by_role("button", name="A set of our own").click()
        self.page.get_by_role("heading", name="Our Field day").wait_for()
        self.page.get_by_label("Name").fill("Winter")
        self.page.get_by_role("heading", name="Winter").wait_for()
        self.page.get_by_role("button", name="Keep the shelf by it").click()
        self.page.get_by_text("the shelf is kept by it").wait_for()
        self.page.get_by_role("button", name="Delete it").click()
        self.page.get_by_text("the shelf goes by it").wait_for()
        self.open("/keep/ptarmigan")
        self.page.get_by_text("house rules “Winter” allow 7 days").first.wait_for()
        self.page.get_by_label("House rules").select_option("steady")
        self.page.get_by_text("house rules “Steady” allow 2 days").first.wait_for()
        self.open("/rules?set=our-field-day")
        self.page.get_by_role("button", name="Delete it").click()
        self.page.get_by_text("Deleted Winter").wait_for()
        self.page.get_by_role("status", name="Messages").get_by_role("button", name="Undo").click()
        self.page.get_by_role("link", name="Winter").wait_for()

    def test_an_answer_that_never_came_is_asked_for_again(self):
        """A busy computer may drop one while others come: what follows is not gone for good."""
        self.page.route("**/effects?*", lambda route: route.abort())
        self.open("/rules?set=field_day")
        again = self.page.get_by_role("complementary", name="What follows").get_by_role("button")
        again.wait_for()
        self.page.unroute("**/effects?*")
        again.click()
        self.page.get_by_role("heading", name="What follows now").wait_for()

    def test_accessible_by_keyboard_too(self):
        """Axe clean; arrow keys step a rule."""
        self.rules()
        self.assert_accessible()
        field = self.page.get_by_role("textbox", name="Use at most", exact=True)
        field.focus()
        with self.page.expect_response(lambda r: "/effects" in r.url):
            self.page.keyboard.press("ArrowDown")
        self.assertEqual(field.input_value(), "79")


class Safety(RulesScreen):
    def test_what_to_do_first(self):
        """Fire first; reached from the foot of every page and from the list of commands."""
        self.open("/keep/ptarmigan")
        self.page.get_by_role("contentinfo").get_by_role("link", name="Safety").click()
        self.page.get_by_role("heading", name="If a pack hisses, smokes or burns").wait_for()
        self.page.get_by_text("People first").wait_for()
        self.page.get_by_text("Makers’ data sheets").first.wait_for()
        self.assert_accessible()


class Tags(RulesScreen):
    def test_chosen_and_printed(self):
        """All packs, or some; an address that is none is told; on paper only the tags."""
        self.open("/tags")
        self.page.get_by_text("26 tags").wait_for()
        self.page.get_by_role("button", name="None").click()
        self.page.get_by_role("checkbox", name="05", exact=True).check()
        self.page.get_by_text("1 tag,").wait_for()
        self.page.get_by_label("Address of this program").fill("phone")
        self.page.get_by_text("An address looks like").wait_for()
        self.page.get_by_label("Address of this program").fill("http://192.168.1.20:8600")
        self.page.get_by_alt_text("Code of pack 05: http://192.168.1.20:8600/pack/05").wait_for()
        self.assert_accessible()
        self.page.emulate_media(media="print")
        self.page.get_by_role("heading", name="Tags to print").wait_for(state="hidden")
        self.page.get_by_alt_text("Code of pack 05").wait_for()

    def test_its_code_opens_the_pack(self):
        """The address in the code is the pack's page."""
        self.open("/pack/05")
        self.page.get_by_role("article", name="Pack 05").wait_for()


class Unknown(RulesScreen):
    def test_a_model_that_is_not_there(self):
        """Said in the stages that need one, with those that are there; it is not remembered."""
        for stage in ("size", "match", "run"):
            self.open(f"/{stage}/zeppelin")
            self.page.get_by_role("heading", name="There is no such model.").wait_for()
            self.page.get_by_role("main").get_by_role("link", name="Grebe").wait_for()
        self.open("/keep/zeppelin")
        self.page.get_by_role("region", name="The shelf").wait_for()
        self.page.get_by_role("link", name="Size", exact=True).click()
        self.page.get_by_role("main").get_by_role("link", name="Grebe").click()
        self.page.get_by_text("Grebe").first.wait_for()


class Night(RulesScreen):
    scheme = "dark"

    def test_night(self):
        """Axe clean in the dark."""
        self.rules()
        self.assert_accessible()


class Phone(RulesScreen):
    width, height, touch = 390, 844, True

    def test_phone(self):
        """Nothing sideways on rules, safety and tags."""
        for address in ("/rules", "/safety", "/tags"):
            self.open(address)
            self.assert_no_sideways_scroll()

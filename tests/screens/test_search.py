"""What was once noted is found again, from any stage."""

from playwright.sync_api import expect

from tests.lives import told
from tests.screens.case import ScreenCase


class Notes(ScreenCase):
    def test_found_by_its_words(self):
        """Typed into the command list: the note with its pack and day; Enter opens the page. What nobody said
        is told so."""
        told("04", "note", text="Landed in the alder bushes, strap torn")
        self.open("/size/ptarmigan")
        self.commands()
        field = self.page.get_by_role("combobox", name="Find or do")
        field.fill("strap alder")
        self.page.get_by_role("option", name="04: Landed in the alder bushes, strap torn").wait_for()
        self.assert_accessible()
        self.page.keyboard.press("Enter")
        self.page.get_by_role("heading", name="04 Fellside 4S 4000 35C").wait_for()
        self.commands()
        field.fill("nothing of the kind")
        self.page.get_by_text("Nothing is called “nothing of the kind”").wait_for()
        expect(self.page.get_by_role("option")).to_have_count(0)

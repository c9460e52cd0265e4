"""Practice on the screen: a beginner's first tasks by keyboard, a wrong setting seen through, what comes back
after days, sheets on paper, one's own gear."""

import re
from datetime import timedelta

from playwright.sync_api import expect
from pypdfium2 import PdfDocument

from coldstack.server.practice.models import PracticeAnswer
from tests.clock import CLOCK
from tests.screens.case import ScreenCase
from tests.screens.own_gear import OwnGearCase


class Practising:
    """What a person does on the screen of Practice."""

    def form(self):
        return self.page.locator("form").filter(has=self.page.get_by_role("button", name="Answer"))

    def begin(self, address="/practice"):
        self.page.emulate_media(reduced_motion="reduce")
        self.open(address)
        self.answer_button().wait_for()

    def answer_button(self):
        return self.page.get_by_role("button", name="Answer", exact=True)

    def is_remembered_as(self, name):
        self.page.get_by_label("To be remembered, your name").fill(name)
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("heading", name="How sure you are")).to_be_visible()
        self.settled()

    def by_keys(self, *, right=True, said=None):
        """Answer what is asked with keys alone, from the first field on: what is right, or what is said."""
        said = said or (self.right() if right else {})
        self.answer_button().focus()
        while not self.page.evaluate("document.activeElement.closest('fieldset, input') === null"):
            self.page.keyboard.press("Shift+Tab")
        for label, words in said.items():
            self.say(label, words)
        self.page.keyboard.press("Enter")
        self.settled()
        expect(self.page.get_by_role("region", name="What came of it")).to_be_visible()

    def say(self, label, words):
        number = self.page.get_by_role("textbox", name=label, exact=True)
        if number.count():
            number.focus()
            self.page.keyboard.type(words.split()[0])
            return
        group = self.page.get_by_role("group", name=label)
        if group.get_by_role("radio").count():
            option = group.get_by_role("radio", name=words, exact=True)
            option.focus()
            self.page.keyboard.press("Space")
            return
        for place, name in enumerate(words.split("; ")):
            rows = group.get_by_role("listitem")
            names = [x.split("\n")[1] for x in rows.all_inner_texts()]
            for _ in range(names.index(name) - place):
                group.get_by_role("button", name=f"{name}: earlier").focus()
                self.page.keyboard.press("ArrowUp")
        self.answer_button().focus()

    def right(self):
        """What the program itself says is right, by the words of each question."""
        task = self.asked["task"]
        body = {**self.asked["ask"], "answers": self.anything(task)}
        came = self.post("/api/practice/answer", body)["came"]
        return {q["words"]: c["right"] for q, c in zip(task["questions"], came, strict=True)}

    def anything(self, task):
        said = {}
        for q in task["questions"]:
            ids = [o["id"] for o in q["asks"].get("options", [])]
            shape = q["asks"]["shape"]
            said[q["id"]] = 0 if shape == "number" else ids if shape == "order" else ids[0]
        return said

    def listens(self):
        """Remembers which task is on the screen."""

        def heard(reply):
            if reply.url.endswith("/api/practice/task"):
                self.asked = {"ask": reply.request.post_data_json, "task": reply.json()}

        self.page.on("response", heard)

    def next(self):
        expect(self.page.get_by_role("button", name="Next")).to_be_focused()
        self.page.keyboard.press("Enter")
        self.settled()
        self.answer_button().wait_for()


class Beginner(Practising, ScreenCase):
    """From an empty program, on a phone's width, by keyboard."""

    world = False
    width, height = 390, 844

    def test_the_first_five_tasks(self):
        """Key 6, a name, five tasks one after the other; each plate has its first third half full, since one
        right answer may be luck. Nothing is wider than the phone, axe finds nothing."""
        self.listens()
        self.page.emulate_media(reduced_motion="reduce")
        self.open("/")
        self.page.keyboard.press("6")
        expect(self.page.get_by_role("heading", name="Practice", level=1)).to_be_visible()
        self.settled()
        self.is_remembered_as("Nils")
        names = []
        for k in range(5):
            names.append(self.page.get_by_role("heading", level=2).first.inner_text().split("\n")[0])
            self.assert_no_sideways_scroll()
            self.assert_accessible()
            self.by_keys()
            expect(self.page.get_by_text("All of it is right.")).to_be_visible()
            self.assert_no_sideways_scroll()
            if k < 4:
                self.next()
        self.assertEqual(len(set(names)), 5)
        plates = self.page.get_by_role("img", name=re.compile("first day 50 % sure"))
        expect(plates).to_have_count(5)
        self.assert_accessible_in_every_light()
        self.assertEqual(PracticeAnswer.objects.filter(outcome="right").count(), 5)

    def test_without_a_name_nothing_is_remembered(self):
        """One practises all the same, one kind after the other; it is said."""
        self.listens()
        self.begin()
        self.by_keys()
        self.next()
        expect(self.page.get_by_role("heading", name=re.compile("^Set the charger"))).to_be_visible()
        expect(self.page.get_by_text("Say who you are, and what you know is remembered.")).to_be_visible()
        self.assertFalse(PracticeAnswer.objects.exists())

    def test_another_one_of_the_same_kind(self):
        """Left unanswered it is another task, also for somebody who is remembered."""
        self.listens()
        self.begin()
        self.is_remembered_as("Nils")
        before = self.asked
        self.page.get_by_role("button", name="Another one").click()
        self.settled()
        self.assertEqual(self.asked["ask"]["kind"], before["ask"]["kind"])
        self.assertNotEqual(self.asked["ask"]["seed"], before["ask"]["seed"])

    def test_what_was_typed_stays(self):
        """What is missing is told at its field, and what was answered stays."""
        self.begin("/practice?kind=label&seed=3")
        self.field("How many cells in series?").fill("3")
        self.answer_button().click()
        expect(self.page.get_by_text("Give a number.").first).to_be_visible()
        expect(self.field("How many cells in series?")).to_have_value("3")
        self.field("How many amps is one C?").fill("2,2")
        self.field("At how many volts does its charge end?").fill("12.6 V")
        self.answer_button().click()
        expect(self.page.get_by_role("region", name="What came of it")).to_be_visible()
        self.assert_accessible()


class SeenThrough(Practising, ScreenCase):
    def wrong_cells(self, moved=1):
        """One cell too many, set by keys."""
        self.listens()
        self.begin("/practice?kind=settings&level=first_day&seed=12")
        said = self.right()
        self.cells = int(said["How many cells?"].split()[0])
        said["How many cells?"] = str(self.cells + moved)
        self.by_keys(said=said)

    def test_a_wrong_setting_to_its_end(self):
        """Volts pass full, a cell swells, it may burn; what it costs; then the working and the place where
        it is done for real."""
        self.wrong_cells()
        ran = self.page.get_by_role("region", name="Seen through")
        for words in (
            "passes its full volts",
            "makes gas and swells",
            "may burn at any moment",
            "costs the pack",
        ):
            expect(ran).to_contain_text(words)
        expect(ran.get_by_role("img").first).to_have_accessible_name(re.compile(r"cell 1 at \d\.\d+ V"))
        expect(self.page.get_by_text("On a real bench this would have been dangerous.")).to_be_visible()
        self.assert_accessible_in_every_light()
        self.page.get_by_role("button", name="Show the working").click()
        expect(self.page.get_by_role("dialog")).to_contain_text("House rules")
        self.page.keyboard.press("Escape")
        self.page.get_by_role("link", name="The same for real: Match").click()
        self.page.wait_for_url("**/match/**")

    def test_moved_through_by_keys(self):
        """Back to its beginning nothing has happened yet; each thing comes at its moment."""
        self.wrong_cells()
        ran = self.page.get_by_role("region", name="Seen through")
        slider = ran.get_by_role("slider", name="Moment of the charge")
        slider.focus()
        self.page.keyboard.press("Home")
        expect(ran).not_to_contain_text("passes its full volts")
        expect(slider).to_have_attribute("aria-valuetext", "after 0 s")
        self.page.keyboard.press("End")
        expect(ran).to_contain_text("costs the pack")

    def test_in_quick_motion(self):
        """Half of the time half of the charge is there; then all of it."""
        self.page.clock.install()
        self.page.goto("/practice?kind=settings&level=first_day&seed=12")
        self.answer_button().wait_for()
        self.page.get_by_role("radio", name="LiPo", exact=True).focus()
        self.page.keyboard.press("Space")
        for label, words in {"How many cells?": "5", "How many amps?": "0.4"}.items():
            self.field(label).fill(words)
        self.answer_button().click()
        slider = self.page.get_by_role("slider", name="Moment of the charge")
        slider.wait_for()
        self.page.clock.run_for(1000)
        between = int(slider.input_value())
        self.page.clock.run_for(5000)
        expect(slider).to_have_value(slider.get_attribute("max"))
        self.assertLess(between, int(slider.get_attribute("max")))
        expect(self.page.get_by_role("region", name="Seen through")).to_contain_text("costs the pack")

    def test_right_ones_say_their_margin(self):
        """They run too."""
        self.wrong_cells(moved=0)
        ran = self.page.get_by_role("region", name="Seen through")
        expect(ran).to_contain_text(re.compile(r"It takes \d+ min and stays"))

    def test_the_rush_on_a_board(self):
        """Who joins what may not be joined sees what flows."""
        self.begin("/practice?kind=sharing&level=season&seed=0")
        self.page.get_by_role("radio", name="They may", exact=True).focus()
        self.page.keyboard.press("Space")
        self.page.keyboard.press("Enter")
        ran = self.page.get_by_role("region", name="Seen through")
        expect(ran.get_by_role("img")).to_have_accessible_name(
            re.compile("^Joined, with no charger: A .* at first")
        )
        self.assert_accessible()


class Remembered(Practising, ScreenCase):
    def test_a_skill_comes_back_after_days(self):
        """Right twice it is learnt; nine days later it is due, and its plate is not full any more."""
        self.listens()
        with CLOCK.earlier(timedelta(days=9)):
            self.begin("/practice?kind=label&level=first_day&seed=5&who=0")
            self.page.get_by_role("combobox", name="Who practises").select_option("somebody new…")
            self.is_remembered_as("Odd")
            self.page.get_by_role("button", name="Read a label").click()
            self.settled()
            self.by_keys()
            self.next()
        with CLOCK.earlier(timedelta(days=8, hours=23)):
            self.by_keys()
            expect(self.page.get_by_role("img", name=re.compile("first day 100 % sure"))).to_have_count(1)
        self.open("/practice")
        expect(
            self.page.get_by_role("heading", name="Read a label first day · comes back today")
        ).to_be_visible()
        plate = self.page.get_by_role("img", name=re.compile(r"first day (\d+) % sure"))
        self.assertLess(int(re.search(r"\d+", plate.get_attribute("aria-label"))[0]), 90)
        option = self.page.get_by_role("combobox", name="Who practises").locator("option:checked")
        expect(option).to_have_text("Odd (1 due)")

    def test_begin_anew_and_undo(self):
        """All is withdrawn, and comes back."""
        self.begin("/practice")
        self.page.get_by_role("combobox", name="Who practises").select_option(value="1")
        self.settled()
        full = self.page.get_by_role("img", name=re.compile(r"first day [1-9]\d* % sure"))
        expect(full.first).to_be_visible()
        before = full.count()
        self.page.get_by_text("Course, begin anew").click()
        self.page.get_by_role("button", name="Begin anew").click()
        self.settled()
        expect(full).to_have_count(0)
        self.page.get_by_role("button", name="Undo").click()
        self.settled()
        expect(full).to_have_count(before)
        self.assert_accessible()

    def test_pressed_twice_it_is_one_answer(self):
        """However quickly."""
        self.begin("/practice?kind=accident&seed=2&who=1")
        had = PracticeAnswer.objects.count()
        self.page.locator("form [role=radiogroup] label").first.click()
        self.answer_button().dblclick()
        expect(self.page.get_by_role("region", name="What came of it")).to_be_visible()
        self.settled()
        self.assertEqual(PracticeAnswer.objects.count(), had + 1)

    def test_people_come_and_go(self):
        """A name that is there is told at its field; who is taken away comes back by Undo."""
        self.begin("/practice?who=0")
        who = self.page.get_by_role("combobox", name="Who practises")
        who.select_option("somebody new…")
        name = self.page.get_by_label("To be remembered, your name")
        name.fill("ida")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("Ida practises here already.")).to_be_visible()
        expect(name).to_have_value("ida")
        self.page.get_by_role("button", name="Not now").click()
        who.select_option(value="2")
        self.page.get_by_text("Course, begin anew").click()
        self.page.get_by_role("button", name="Take Mirel away").click()
        self.settled()
        expect(who.get_by_role("option", name=re.compile("Mirel"))).to_have_count(0)
        self.page.get_by_role("button", name="Undo").click()
        expect(who.get_by_role("option", name=re.compile("Mirel"))).to_have_count(1)


class OnPaper(Practising, ScreenCase):
    def sheet(self, address="/practice?sheet=true&seed=7&count=6"):
        self.open(address)
        self.page.get_by_role("heading", name="Battery practice").wait_for()
        document = PdfDocument(self.page.pdf(format="A4", prefer_css_page_size=True))
        return [page.get_textpage().get_text_range() for page in document]

    def test_answers_apart(self):
        """Tasks first, what is right on a page of its own after them; the same seed gives the same sheet."""
        pages = self.sheet()
        with_answers = [k for k, text in enumerate(pages) if "Answers" in text]
        self.assertEqual(with_answers, [len(pages) - 1])
        self.assertGreater(len(pages), 1)
        self.assertIn("How many cells in series?", pages[0])
        right = self.page.get_by_role("region", name="Answers").locator("b").all_inner_texts()
        self.assertGreaterEqual(len(right), 6)
        for words in (w for w in right if re.search(r"\d+\.\d+ ", w)):
            self.assertIn(words, pages[-1])
            self.assertNotIn(words, "".join(pages[:-1]))
        self.assertEqual(self.sheet(), pages)
        self.assertNotEqual(self.sheet("/practice?sheet=true&seed=8&count=6"), pages)

    def test_a_course_of_ones_own(self):
        """What is ticked, in the order of ticking, kept under a name; who follows it gets it."""
        self.open("/practice?sheet=true&steps=%5B%5D")
        expect(self.page.get_by_text("Tick at least one kind of task.")).to_be_visible()
        self.page.get_by_role("checkbox", name="Will it plug?, first day").check()
        self.page.get_by_role("checkbox", name="Plug in, in order, first day").check()
        self.settled()
        self.page.get_by_label("Keep what is ticked as a course").fill("Two things")
        self.page.get_by_role("button", name="Keep", exact=True).click()
        expect(self.page.get_by_role("button", name="Two things", exact=True)).to_be_visible()
        self.assert_accessible_in_every_light()
        self.page.get_by_role("button", name="Back to practice").click()
        who = self.page.get_by_role("combobox", name="Who practises")
        who.select_option("somebody new…")
        self.is_remembered_as("Tiril")
        self.page.get_by_text("Course, begin anew").click()
        self.page.get_by_label("Course", exact=True).select_option("Two things")
        self.settled()
        self.open("/practice")
        expect(self.page.get_by_role("heading", name=re.compile("^Will it plug"))).to_be_visible()

    def test_delete_a_course_and_undo(self):
        """It comes back."""
        self.open("/practice?sheet=true")
        delete = self.page.get_by_role("button", name="Delete the course Beginners’ evening")
        delete.click()
        expect(delete).to_have_count(0)
        self.page.get_by_role("button", name="Undo").click()
        expect(delete).to_have_count(1)


class OfOnesOwn(Practising, OwnGearCase):
    """One pack and one charger of one's own, from an empty program."""

    def test_a_task_of_my_own_gear(self):
        """It is about them, says so, and its right amps are those that Match sets for a pack that nobody
        charged here before: half of C, which stands on the label."""
        self.listens()
        self.begin("/practice?kind=settings&seed=4&who=0")
        self.page.get_by_role("checkbox", name="of my own gear").check()
        expect(self.page.get_by_text("your own gear")).to_be_visible()
        expect(self.page.get_by_text("My 3S LiPo")).to_be_visible()
        expect(self.page.get_by_text("Bench 80")).to_be_visible()
        expect(
            self.page.get_by_text("nobody charged, ran or checked it here before: half of C")
        ).to_be_visible()
        self.settled()
        self.by_keys()
        expect(self.page.get_by_text("All of it is right.")).to_be_visible()
        self.assertEqual(self.right()["How many amps?"], "1.1 A")


class Around(ScreenCase):
    def test_in_help_and_command_list(self):
        """The sixth word, key 6, found by its name."""
        self.open("/size/ptarmigan")
        stages = self.page.get_by_role("navigation", name="Stages")
        self.assertEqual(stages.get_by_role("link").all_inner_texts()[-1], "Practice")
        self.page.keyboard.press("?")
        expect(self.page.get_by_role("dialog")).to_contain_text("How to practise")
        self.page.keyboard.press("Escape")
        self.commands()
        self.page.keyboard.type("practice sheets")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("heading", name="For instructors")).to_be_visible()
        self.page.keyboard.press("6")
        expect(self.page.get_by_role("heading", name="Practice", level=1)).to_be_visible()

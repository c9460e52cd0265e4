import json

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.draw.found import found_draw
from coldstack.core.draw.motion import motion_of
from coldstack.core.errors import DomainError
from coldstack.core.logs.reader import read_log
from coldstack.server.config.paths import PROJECT
from coldstack.server.logs.models import LogShape
from tests.server.case import DemoCase

DEMO = PROJECT / "web" / "public" / "demo" / "ptarmigan-watt-meter.csv"


def rows(
    header="time s,voltage V,current A", delimiter=",", comma=False, n=600, time=lambda i: f"{i * 0.5:.1f}"
):
    """A log of five minutes: 10 A, and 40 A for five seconds of every thirty."""
    lines = [header]
    for i in range(n):
        amps = 40.0 if (i // 2) % 30 >= 25 else 10.0
        cells = [time(i), f"{15.2 - amps / 100:.2f}", f"{amps:.2f}"]
        lines.append(delimiter.join(c.replace(".", ",") if comma else c for c in cells))
    return "\n".join(lines).encode()


class Reading(SimpleTestCase):
    def test_dresses_of_a_log(self):
        """Delimiters, decimal commas, units, clock times, titles above the header, a byte-order mark: the
        same draw."""
        plain = found_draw(read_log(rows()), motion_of("level_flight"))
        self.assertAlmostEqual(plain.average_a, 15.0, delta=0.2)
        for raw in (
            rows("Time;Voltage [V];Current [A]", ";", comma=True),
            rows("time\tvolts\tamps", "\t"),
            b"\xef\xbb\xbf" + rows(),
            b"My meter, 14 October\n\n" + rows("Time (s),U (V),I (A)"),
            rows("timestamp_ms,voltage_v,current_a", time=lambda i: str(i * 500)),
            rows("time,voltage,current", time=lambda i: f"0:{i // 120:02d}:{i / 2 % 60:04.1f}"),
        ):
            found = found_draw(read_log(raw), motion_of("level_flight"))
            self.assertAlmostEqual(found.average_a, plain.average_a, delta=0.05, msg=raw[:60])
            self.assertAlmostEqual(found.duration_s, plain.duration_s, delta=1)

    def test_milli_units_are_scaled(self):
        """Millivolts and milliamps by their header."""
        raw = b"time s,voltage mV,current mA\n" + b"\n".join(b"%d,15000,12000" % i for i in range(50))
        log = read_log(raw)
        self.assertEqual((log.voltage_v[0], log.current_a[0]), (15.0, 12.0))

    def test_found_phases_keep_the_average(self):
        """Base and peak, each as long as it was on average: 25 s of 10 A and 5 s of 40 A."""
        found = found_draw(read_log(rows()), motion_of("level_flight"))
        base, peak = found.phases
        self.assertAlmostEqual(base.current_a, 10.0, places=6)
        self.assertAlmostEqual(peak.current_a, 40.0, places=6)
        self.assertAlmostEqual(peak.duration_s, 5.0, delta=0.1)
        cycle = base.duration_s + peak.duration_s
        self.assertAlmostEqual(
            (base.duration_s * 10 + peak.duration_s * 40) / cycle, found.average_a, delta=0.01
        )
        self.assertEqual((base.hold, peak.hold), ("power", "throttle"))

    def test_a_steady_draw_is_one_phase(self):
        """No peaks are invented."""
        raw = b"time s,voltage V,current A\n" + b"\n".join(
            b"%d,15,%f" % (i, 8 + 0.1 * (i % 3)) for i in range(200)
        )
        self.assertEqual(len(found_draw(read_log(raw), motion_of("hover")).phases), 1)

    def test_standing_at_the_ends_is_left_out(self):
        """Two minutes on the bench before the flight do not thin the average."""
        raw = (
            b"time s,voltage V,current A\n"
            + b"\n".join(b"%d,16.5,0.05" % i for i in range(120))
            + b"\n"
            + b"\n".join(b"%d,15,10" % i for i in range(120, 240))
        )
        found = found_draw(read_log(raw), motion_of("hover"))
        self.assertAlmostEqual(found.average_a, 10.0, delta=0.01)
        self.assertAlmostEqual(found.duration_s, 120, delta=1.5)

    def test_the_demo_flight_is_what_the_stand_in_flew(self):
        """About 8 A of cruise and 46 A peaks every 45 s, as the simulated meter recorded."""
        found = found_draw(read_log(DEMO.read_bytes()), motion_of("level_flight"))
        self.assertAlmostEqual(found.peak_a, 44.0, delta=3)
        self.assertAlmostEqual(found.peak_every_s, 46.0, delta=4)

    def test_what_is_no_log_says_so(self):
        """Each with the reason and what would be right."""
        for raw, words in (
            (b"", "empty"),
            (b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR" + bytes(range(256)) * 20, "not a text file"),
            (b"\xff\xd8\xff\xe0\x10JFIF" + bytes(range(1, 32)) * 50, "not a text file"),
            (b"hello world\nthis is a letter\n", "No row of figures"),
            (b"time s,voltage V\n1,2\n" * 20, "No column for amps"),
            (b"time s,voltage V,current A\n1,15,10\n2,15,10\n", "Only 2 rows"),
            (b"time s,voltage V,current A\n" + b"x,y,z\n" * 50, "No row of figures"),
            (b"time s,voltage V,current A\n" + b"5,15,10\n" * 50, "does not move on"),
            (b"time s,voltage V,current A\n" + b"\n".join(b"%d,15,0" % i for i in range(50)), "no current"),
            (
                b"time s,voltage V,current A\n" + b"\n".join(b"%d,15,9000000" % i for i in range(50)),
                "milliamps",
            ),
        ):
            with self.subTest(raw[:30]), self.assertRaisesRegex(DomainError, words):
                found_draw(read_log(raw), motion_of("hover"))

    @given(st.binary(max_size=600))
    def test_any_bytes_are_read_or_refused_in_words(self, raw):
        """Never another kind of error."""
        try:
            found_draw(read_log(raw), motion_of("hover"))
        except DomainError as error:
            self.assertEqual(error.field, "log")

    @given(st.lists(st.text(alphabet="0123456789.,;:- eNax\t", max_size=30), max_size=40))
    def test_any_table_under_a_header_is_read_or_refused_in_words(self, lines):
        """Whatever stands in the cells."""
        try:
            read_log(("time s,voltage V,current A\n" + "\n".join(lines)).encode())
        except DomainError as error:
            self.assertEqual(error.field, "log")


class Upload(DemoCase):
    def send(self, raw, name="log.csv", **fields):
        return self.client.post(
            "/api/draw/log", {"log": SimpleUploadedFile(name, raw), "motion": "level_flight", **fields}
        )

    def test_a_log_is_read_and_nothing_is_kept(self):
        """The preview has the columns, the figures and samples to draw."""
        body = self.send(DEMO.read_bytes()).json()
        self.assertEqual([c["quantity"] for c in body["columns"]], ["time", "volts", "amps"])
        found = body["found"]
        self.assertEqual(len(found["preview_min"]), len(found["level_a"]))
        self.assertEqual(len(found["phases"]), 2)
        self.assertEqual(LogShape.objects.count(), 0)

    def test_two_hundred_thousand_rows(self):
        """Are read; the preview stays small."""
        t = np.arange(200_000) * 0.01
        raw = (
            b"time s,voltage V,current A\n"
            + "\n".join(f"{x:.2f},15.1,{12 + (i % 7)}" for i, x in enumerate(t)).encode()
        )
        found = self.send(raw).json()["found"]
        self.assertEqual(found["rows"], 200_000)
        self.assertLessEqual(len(found["preview_a"]), 400)

    def test_unknown_columns_are_read_after_three_choices_and_the_next_file_without_any(self):
        """What was chosen is remembered for files that look alike, and for no other."""
        strange = rows("Foo,Bar,Baz")
        asked = self.send(strange).json()
        self.assertEqual((asked["missing"], asked["found"]), (["time", "volts", "amps"], None))
        uses = [
            {"index": i, "quantity": q, "unit": u}
            for i, q, u in ((0, "time", "s"), (1, "volts", "V"), (2, "amps", "A"))
        ]
        chosen = {"uses": uses}
        read = self.send(strange, chosen=json.dumps(chosen)).json()
        self.assertAlmostEqual(read["found"]["average_a"], 15.0, delta=0.2)
        self.assertFalse(read["remembered"])
        kept = self.client.put(
            "/api/draw/log-shape",
            json.dumps({"shape": read["shape"], "chosen": chosen}),
            content_type="application/json",
        )
        self.assertEqual(kept.status_code, 204)
        again = self.send(rows("Foo,Bar,Baz", n=300)).json()
        self.assertTrue(again["remembered"])
        self.assertEqual(again["missing"], [])
        self.assertIsNotNone(again["found"])
        self.assertIsNone(self.send(rows("Foo,Bar,Qux")).json()["found"])

    def test_a_choice_that_yields_no_log_says_why_and_keeps_the_columns(self):
        """Volts and amps in the wrong unit: the preview stays, with the reason."""
        uses = [
            {"index": i, "quantity": q, "unit": u}
            for i, q, u in ((0, "time", "h"), (1, "volts", "V"), (2, "amps", "A"))
        ]
        body = self.send(rows("Foo,Bar,Baz"), chosen=json.dumps({"uses": uses})).json()
        self.assertIsNone(body["found"])
        self.assertRegex(body["wrong"], "The log lasts .* hours")
        self.assertEqual(body["columns"][0]["unit"], "h")

    def test_choices_out_of_shape(self):
        """Refused at the log, in words; a kept one that cannot be meant is passed over."""
        for chosen in (
            "{",
            "[]",
            json.dumps({"uses": [{"index": 0, "quantity": "amps", "unit": "furlong"}]}),
            json.dumps({"uses": [], "step_s": 0}),
        ):
            with self.subTest(chosen):
                self.assert_problem(self.send(rows(), chosen=chosen), 422, "log")
        shape = self.send(rows()).json()["shape"]
        LogShape.objects.create(shape=shape, chosen={"uses": [{"index": 9, "quantity": "amps", "unit": "A"}]})
        self.assertIsNotNone(self.send(rows()).json()["found"])

    def test_remembering_needs_the_token(self):
        """It writes."""
        strict = Client(enforce_csrf_checks=True)
        reply = strict.put(
            "/api/draw/log-shape",
            json.dumps({"shape": "x", "chosen": {"uses": []}}),
            content_type="application/json",
        )
        self.assert_problem(reply, 403, words="Reload")

    def test_a_picture_is_refused_at_its_field(self):
        """With a sentence, not a trace."""
        self.assert_problem(
            self.send(b"\x89PNG\r\n\x1a\n" + bytes(500), "photo.png"), 422, "log", "not a text file"
        )

    def test_no_file_at_all(self):
        """The field is needed."""
        self.assert_problem(self.client.post("/api/draw/log", {"motion": "hover"}), 422, "log", "needed")

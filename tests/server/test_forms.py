"""Forms of bad faith: whatever boundary they name, an answer in words."""

from django.test import Client, SimpleTestCase, TestCase

from coldstack.server.api.errors import words_of
from tests.server.test_pairing import operations

TYPES = (
    "multipart/form-data",
    "multipart/form-data; boundary=",
    "multipart/form-data; boundary=xyz",
    "multipart/form-data; boundary=\xff",
    f"multipart/form-data; boundary={'a' * 300}",
)
BODIES = (b"", b"garbage", b"--xyz\r\n", b'--xyz\r\nContent-Disposition: form-data; name="file"\r\n\r\nabc')


class Boundaries(TestCase):
    def test_none_of_them_breaks_it(self):
        """Every address that takes something, every boundary, every body: refused in one shape."""
        client = Client(raise_request_exception=False)
        asked = 0
        for method, path, _ in operations():
            if method == "GET" or "world/open" in path:
                continue
            for kind in TYPES:
                for body in BODIES:
                    reply = client.generic(method, path, body, content_type=kind)
                    asked += 1
                    with self.subTest(f"{method} {path} {kind}"):
                        self.assertLess(reply.status_code, 500)
                        self.assertIn("json", reply.get("Content-Type", "json"))
        self.assertGreater(asked, 500)


class Bounds(SimpleTestCase):
    def test_a_bound_is_told_with_its_unit(self):
        """In words and in the unit of the field; a C rating is no temperature."""
        for kind, field, ctx, words in (
            ("less_than_equal", "temperature_c", {"le": 120}, "At most 120 °C\u2060 is possible."),
            ("greater_than_equal", "mass_g", {"ge": 0.5}, "At least 0.5 g\u2060 is possible."),
            ("less_than", "average_a", {"lt": 2000}, "Less than 2000 A is possible."),
            ("greater_than", "label_c", {"gt": 0}, "More than 0 is possible."),
            ("less_than_equal", "cells_min", {"le": 14}, "At most 14 is possible."),
        ):
            error = {"type": kind, "loc": ("body", "data", field), "ctx": ctx}
            self.assertEqual(words_of(error, None), words)

"""Forms of bad faith: whatever boundary they name, an answer in words."""

from django.test import Client, TestCase

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

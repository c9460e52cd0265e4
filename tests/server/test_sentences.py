"""What the program says, as templates that a second language could be written beside."""

import io
import re

from scripts import sentences
from tests.server.case import DemoCase

SOURCE = '''
"""A module."""
import re
PLAIN = "Nobody looked at it yet."
RULE = re.compile("not said to anybody")
def words(x, m):
    """A docstring is not said."""
    return f"{x.tag} differs by {n(m.spread_v):.3f} V from {m.tag}{GRAMS}; {{so}}."
'''


class Templates(DemoCase):
    def test_values_have_names_and_units_their_mark(self):
        """Plain words and strings with values; neither patterns nor docstrings."""
        found = [message for _, _, message, _ in sentences.extract(io.BytesIO(SOURCE.encode()))]
        self.assertEqual(
            found,
            ["Nobody looked at it yet.", "{tag} differs by {spread_v} V from {tag_2} g\u2060; {{so}}."],
        )

    def test_what_the_demo_says_is_among_them(self):
        """Most sentences are one template each, as they stand; the rest are put together of several."""
        known = [
            pattern
            for message in sentences.catalog()
            if (pattern := _pattern(str(message.id))) and len(_words(str(message.id))) > 1
        ]
        said = set()
        for path in ("/api/models/grebe/plan", "/api/keep/shelf", "/api/safety", "/api/keep/packs/05"):
            said |= {
                x for x in _strings(self.client.get(path).json()) if re.search(r"[a-z]{2} [a-z]{2,} ", x)
            }
        found = [x for x in said if any(p.fullmatch(x) for p in known)]
        self.assertGreater(len(said), 100)
        self.assertGreater(len(found) / len(said), 0.75, sorted(said - set(found))[:20])


def _pattern(template):
    parts = re.split(r"(\{\w+\})", template)
    return re.compile(
        "".join("(.+?)" if re.fullmatch(r"\{\w+\}", x) else re.escape(x) for x in parts), re.DOTALL
    )


def _words(template):
    return re.findall(r"[A-Za-z]{3,}", re.sub(r"\{\w+\}", "", template))


def _strings(value):
    if isinstance(value, str):
        yield value
    for part in value.values() if isinstance(value, dict) else value if isinstance(value, list) else ():
        yield from _strings(part)

"""Addresses and their templates."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from wise_ladder.plan.addresses import filled_in, template, values_in
from wise_ladder.plan.tokens import PhraseError

HIVE = "combfield://hives/{id}{?look,day}"


class Matching(unittest.TestCase):
    CASES = (
        (HIVE, "combfield://hives/7", {"id": "7"}),
        (HIVE, "combfield://hives/7?look=frames", {"id": "7", "look": "frames"}),
        (HIVE, "combfield://hives/7?day=2&look=frames", {"id": "7", "look": "frames", "day": "2"}),
        (HIVE, "combfield://hives/7?other=1#top", {"id": "7"}),
        (HIVE, "combfield://hives/the%20old%20one", {"id": "the old one"}),
        (HIVE, "combfield://hives/7/frames", None),
        (HIVE, "combfield://hives/", None),
        (HIVE, "other://hives/7", None),
        ("combfield://shelf/{+rest}", "combfield://shelf/a/b", {"rest": "a/b"}),
        ("combfield://{day}-{look}", "combfield://2-frames-new", {"day": "2", "look": "frames-new"}),
        ("combfield://a.b", "combfield://aXb", None),
    )

    def test_each(self) -> None:
        for text, address, expected in self.CASES:
            with self.subTest(address):
                self.assertEqual(values_in(text, address), expected)

    @given(st.text(min_size=1), st.text())
    def test_what_is_filled_in_is_read_back(self, hive: str, look: str) -> None:
        values = {"id": hive, "look": look}
        self.assertEqual(values_in(HIVE, filled_in(HIVE, values)), values)

    def test_no_template(self) -> None:
        for text in (
            "hives",
            "x://{",
            "x://}",
            "x://{}",
            "x://{a b}",
            "x://{a,b}",
            "x://{?a}/b",
            "x://{a}{a}",
            "x://{a}{b}",
            "x://{+a}/{+b}",
            "x://a?b=c",
        ):
            with self.subTest(text), self.assertRaises(PhraseError):
                template(text)

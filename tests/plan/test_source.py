"""Files that are no plans, and the caret under the place."""

import tempfile
import unittest
from pathlib import Path

from wise_ladder.errors import PlanError
from wise_ladder.plan.files import MAX_BYTES
from wise_ladder.plan.loader import read_plan


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "p.ladder.yaml"

    def said(self, data: bytes | None) -> str:
        if data is not None:
            self.path.write_bytes(data)
        with self.assertRaises(PlanError) as caught:
            read_plan(self.path)
        return str(caught.exception)

    def test_files_that_cannot_be_read(self) -> None:
        self.assertIn("there is no such file", self.said(None))
        self.assertIn("1:6: not UTF-8 text; save the plan as UTF-8", self.said(b"app: \xff"))
        self.assertIn("this is UTF-16 text", self.said("app: x".encode("utf-16")))
        self.assertIn("2:2: U+0000 is a control character", self.said(b"app: x\na\0"))
        self.assertIn("larger than 5 MB", self.said(b"#" * (MAX_BYTES + 1)))
        self.path.unlink()
        self.path.mkdir()
        self.assertIn("this is a folder", self.said(None))

    def test_what_is_not_seen_is_refused_however_it_is_written(self) -> None:
        """In names all of it; texts for people may have several lines, and what some scripts need to join letters."""
        for code in (0x1B, 0x7F, 0x9B, 0x202E, 0x2066, 0x200B, 0x00AD, 0x2028):
            words = f"U+{code:04X}"
            with self.subTest(words):
                self.assertIn(words, self.said(f"app: hi{chr(code)}ves".encode()))
                self.assertIn(f"1:6: {words}", self.said(f'app: "hi\\u{code:04x}ves"'.encode()))
                about = f'app: x\nstart: hives\nabout: "hi\\u{code:04x}ves"\nscreens: {{hives: }}'
                self.assertIn(f"3:8: {words}", self.said(about.encode()))
        self.assertIn("1:6: U+200D", self.said(b'app: "hi\\u200dves"'))
        self.assertIn("1:6: U+000A", self.said(b'app: "hi\\nves"'))
        self.path.write_text('app: x\nstart: hives\nabout: "two\\nlines, \\u0915\\u094d\\u200d\\u0937"\nscreens: {hives: }\n')
        self.assertIn("\u200d", read_plan(self.path).about)

    def test_a_byte_order_mark_and_windows_lines_are_fine(self) -> None:
        self.path.write_bytes("\ufeffapp: x\r\nstart: hives\r\nscreens:\r\n  hives:\r\n".encode())
        self.assertEqual(read_plan(self.path).app, "x")

    def test_the_caret_stands_under_the_place(self) -> None:
        text = 'app: x\nstart: hives\nscreens:\n  hives: {moves: [{when: tap a, do: "push hvies"}]}\n'
        head, line, caret = self.said(text.encode()).splitlines()
        self.assertIn(':4:43: there is no screen "hvies"', head)
        self.assertEqual(line[caret.index("^") :][:5], "hvies")

    def test_a_long_line_is_cut_around_the_place(self) -> None:
        text = f"app: x\nstart: hives\nscreens: {{hives: {{moves: [{{when: tap {'a' * 300}, do: push hvies}}]}}}}\n"
        _, line, caret = self.said(text.encode()).splitlines()
        self.assertLess(len(line), 130)
        self.assertEqual(line[caret.index("^") :][:5], "hvies")

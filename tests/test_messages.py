"""The sentences that people read stand in one module for each kind, and each is filled in with what it asks for."""

import ast
import string
import unittest
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

SOURCE = Path(__file__).parent.parent / "src" / "wise_ladder"
PACKAGES = ("plan", "semantics", "rules", "app")
SAYS = {
    "plan": {"add_error", "add_warning", "note", "PhraseError"},
    "semantics": {"Refusal", "NoEffect", "Finding", "Forgotten", "hear"},
    "rules": {"Violation"},
    "app": {"show_message", "append_message", "ListDialog", "FormDialog"},
}
"""What shows a sentence to people: none is written where one of these is called."""
NAMES = {"Finding": 0, "hear": 2}
"""Arguments that are names, not sentences: the last of them is at this place."""


def calls(package: str) -> Iterator[tuple[str, ast.Call]]:
    """Go through all calls of a package, each with its place."""
    for path in sorted((SOURCE / package).rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call):
                yield f"{path.relative_to(SOURCE)}:{node.lineno}", node


def called(node: ast.Call) -> str:
    return node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")


def sentences(node: ast.expr) -> Iterator[str]:
    """Find the sentences that are written in an argument: three words or more."""
    match node:
        case ast.Constant(value=str(text)) if len(text.split()) > 2:
            yield text
        case ast.JoinedStr(values=parts):
            text = "".join(
                part.value if isinstance(part, ast.Constant) and isinstance(part.value, str) else "…" for part in parts
            )
            if len([word for word in text.split() if any(letter.isalpha() for letter in word)]) > 1:
                yield text
        case ast.IfExp(body=body, orelse=other) | ast.BinOp(left=body, right=other):
            yield from sentences(body)
            yield from sentences(other)


class Messages(unittest.TestCase):
    def test_each_message_gets_the_words_it_asks_for(self) -> None:
        for package in PACKAGES:
            messages = import_module(f"wise_ladder.{package}.messages")
            for place, node in calls(package):
                match node.func:
                    case ast.Attribute(value=ast.Attribute(value=ast.Name(id="messages"), attr=name), attr="format"):
                        wanted = {field for _, field, _, _ in string.Formatter().parse(getattr(messages, name)) if field}
                        self.assertEqual({keyword.arg for keyword in node.keywords}, wanted, f"{place}: {name}")

    def test_each_message_is_said_somewhere(self) -> None:
        for package in PACKAGES:
            text = "\n".join(path.read_text(encoding="utf-8") for path in (SOURCE / package).rglob("*.py"))
            for name in vars(import_module(f"wise_ladder.{package}.messages")):
                if name.isupper():
                    self.assertIn(f"messages.{name}", text, package)

    def test_no_sentence_is_written_where_it_is_said(self) -> None:
        for package in PACKAGES:
            for place, node in calls(package):
                if called(node) in SAYS[package]:
                    given = [*node.args[NAMES.get(called(node), -1) + 1 :], *(word.value for word in node.keywords)]
                    self.assertEqual([text for each in given for text in sentences(each)], [], place)


if __name__ == "__main__":
    unittest.main()

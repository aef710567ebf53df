"""The sentences that people read stand in one module for each kind, and each is filled in with what it asks for."""

import ast
import re
import string
import unittest
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

SOURCE = Path(__file__).parent.parent / "src" / "wise_ladder"
PACKAGES = (
    ".plan",
    ".semantics",
    ".walks",
    ".rules",
    ".drawings",
    ".trials",
    ".proofs",
    ".reports",
    ".link",
    ".app",
    ".app.seen",
    ".app.trials",
    "",
)
"""Each has a module of messages; the last is the command line: the modules that stand in no package."""
ERRORS = {"PlanError", "PhraseError", "WalkError", "RuleError", "WriteError", "ConsentError", "UsageError", "LinkError"}
SAYS = {
    ".plan": ERRORS | {"add_error", "add_warning", "note", "_refuse"},
    ".semantics": ERRORS | {"Refusal", "NoEffect", "Finding", "Forgotten", "hear"},
    ".walks": ERRORS,
    ".rules": ERRORS | {"Violation"},
    ".drawings": ERRORS,
    ".trials": ERRORS,
    ".proofs": ERRORS,
    ".reports": ERRORS,
    ".link": ERRORS,
    ".app": (APP := ERRORS | {"show_message", "append_message", "ListDialog", "FormDialog"}),
    ".app.seen": APP,
    ".app.trials": APP,
    "": ERRORS | {"print", "line", "_say", "_ask", "_asks", "visible"},
}
"""What shows a sentence to people: none is written where one of these is called."""
NAMES = {"Finding": 0, "hear": 2}
"""Arguments that are names, not sentences: the last of them is at this place."""


def files(package: str) -> list[Path]:
    """List the modules that take their sentences from the same place."""
    found = (folder(package)).rglob("*.py") if package else SOURCE.glob("*.py")
    inner = [folder(other) for other in PACKAGES if other.startswith(f"{package}.") and package]
    return sorted(path for path in found if not any(path.is_relative_to(each) for each in inner))


def folder(package: str) -> Path:
    return SOURCE.joinpath(*package.split("."))


def calls(package: str) -> Iterator[tuple[str, ast.Call]]:
    """Go through all calls of a package, each with its place."""
    for path in files(package):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call):
                yield f"{path.relative_to(SOURCE)}:{node.lineno}", node


def called(node: ast.Call) -> str:
    return node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")


def words(text: str) -> list[str]:
    return [word for word in text.split() if any(letter.isalpha() for letter in word)]


def sentences(node: ast.expr) -> Iterator[str]:
    """Find the sentences that are written in an argument: three words or more."""
    match node:
        case ast.Constant(value=str(text)) if len(text.split()) > 2:
            yield text
        case ast.JoinedStr(values=parts):
            text = "".join(
                part.value if isinstance(part, ast.Constant) and isinstance(part.value, str) else "…" for part in parts
            )
            if len(words(text)) > 1:
                yield text
        case ast.IfExp(body=body, orelse=other) | ast.BinOp(left=body, right=other):
            yield from sentences(body)
            yield from sentences(other)


def texts_of(node: ast.AST) -> Iterator[str]:
    """Find the texts of a module that may be shown: no docstring, no style sheet."""
    match node:
        case ast.Expr(value=ast.Constant()) | ast.AnnAssign(target=ast.Name(id="CSS" | "BINDINGS")):
            return
        case ast.Assert():
            return
        case ast.Constant(value=str(text)):
            yield text
        case _:
            for child in ast.iter_child_nodes(node):
                yield from texts_of(child)


class Messages(unittest.TestCase):
    def test_each_name_is_given_once(self) -> None:
        for package in PACKAGES:
            path = folder(package) / "messages.py"
            tree = ast.parse(path.read_text(encoding="utf-8"))
            targets = [target for node in tree.body if isinstance(node, ast.Assign) for target in node.targets]
            names = [node.id for target in targets for node in ast.walk(target) if isinstance(node, ast.Name)]
            self.assertEqual([name for name in set(names) if names.count(name) > 1], [], path)

    def test_each_message_gets_the_words_it_asks_for(self) -> None:
        for package in PACKAGES:
            messages = import_module(f"wise_ladder{package}.messages")
            for place, node in calls(package):
                match node.func:
                    case ast.Attribute(value=ast.Attribute(value=ast.Name(id="messages"), attr=name), attr="format"):
                        wanted = {field for _, field, _, _ in string.Formatter().parse(getattr(messages, name)) if field}
                        self.assertEqual({keyword.arg for keyword in node.keywords}, wanted, f"{place}: {name}")

    def test_each_message_is_said_somewhere(self) -> None:
        for package in PACKAGES:
            text = "\n".join(path.read_text(encoding="utf-8") for path in files(package))
            for name in vars(import_module(f"wise_ladder{package}.messages")):
                if name.isupper():
                    self.assertTrue(re.search(rf"messages\.{name}\b|[(,] ?{name}[,)]", text), name)

    def test_no_sentence_is_written_where_it_is_said(self) -> None:
        for package in PACKAGES:
            for place, node in calls(package):
                if called(node) in SAYS[package]:
                    given = [*node.args[NAMES.get(called(node), -1) + 1 :], *(word.value for word in node.keywords)]
                    self.assertEqual([text for each in given for text in sentences(each)], [], place)

    def test_views_and_dialogs_write_no_sentence_of_their_own(self) -> None:
        for path in (*files(".app"), *files(".app.seen")):
            if path.name not in {"messages.py", "view_help.py", "commands.py"}:
                tree = ast.parse(path.read_text(encoding="utf-8"))
                texts = [text for text in texts_of(tree) if len(words(text)) > 3]
                self.assertEqual(texts, [], path.relative_to(SOURCE))


if __name__ == "__main__":
    unittest.main()

"""The house stays readable: no file of more than 450 lines, no function of more than 60."""

import ast
import unittest
from pathlib import Path

SOURCE = Path(__file__).parent.parent / "src"


class Sizes(unittest.TestCase):
    def test_files_and_functions(self) -> None:
        too_long: list[str] = []
        for path in sorted(SOURCE.rglob("*.py")):
            text = path.read_text(encoding="utf-8")
            too_long += [path.name] if len(text.splitlines()) > 450 else []
            functions = (
                node for node in ast.walk(ast.parse(text)) if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef))
            )
            too_long += [f"{path.name}: {node.name}" for node in functions if (node.end_lineno or 0) - node.lineno >= 60]
        self.assertEqual(too_long, [])


if __name__ == "__main__":
    unittest.main()

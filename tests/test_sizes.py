"""The house stays readable: no file of more than 450 lines, no function of more than 60."""

import ast
import unittest
from pathlib import Path

SOURCE = Path(__file__).parent.parent / "src"


class Sizes(unittest.TestCase):
    def test_files_and_functions(self) -> None:
        too_long = []
        for path in sorted(SOURCE.rglob("*.py")):
            text = path.read_text(encoding="utf-8")
            if len(text.splitlines()) > 450:
                too_long.append(path.name)
            for node in ast.walk(ast.parse(text)):
                if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef)) and (node.end_lineno or 0) - node.lineno >= 60:
                    too_long.append(f"{path.name}: {node.name}")
        self.assertEqual(too_long, [])


if __name__ == "__main__":
    unittest.main()

"""SQL stands in the store and nowhere else of the product: the calls are looked for, not only the imports."""

import ast
from pathlib import Path

import pytest

import dimbo

SOURCE = Path(dimbo.__file__).parent
SENDS = {"execute", "executemany", "copy", "stream"}
ELSEWHERE = {"store", "bench", "ops", "demo"}
"""The bench measures statements, ops makes its own cluster, the demo makes its practice; none of them is imported by the rest."""
WORDS = ("select ", "insert into ", "update ", "delete from ", "alter table ", "with ")


def sent(tree: ast.AST) -> list[int]:
    """Lines on which something is sent to a database: a call that is named so and whose first argument is no plain value."""
    calls = [n for n in ast.walk(tree) if isinstance(n, ast.Call) and isinstance(n.func, ast.Attribute) and n.func.attr in SENDS]
    return [n.lineno for n in calls if n.args and ast.unparse(n.func.value) in ("conn", "cursor", "cur", "self.conn")]


def spelled(tree: ast.AST) -> list[int]:
    texts = [n for n in ast.walk(tree) if isinstance(n, ast.Constant) and isinstance(n.value, str)]
    return [n.lineno for n in texts if n.value.lower().lstrip().startswith(WORDS) and " from " in f" {n.value.lower()} "]


@pytest.mark.parametrize("file", sorted(f for f in SOURCE.rglob("*.py") if f.relative_to(SOURCE).parts[0] not in ELSEWHERE), ids=str)
def test_no_statement_outside_the_store(file):
    tree = ast.parse(file.read_text(encoding="utf-8"))
    assert (sent(tree), spelled(tree)) == ([], [])


def test_the_search_sees_calls_and_statements():
    """Proof of the proof."""
    tree = ast.parse('conn.execute(TEXT)\nSQL = "select id from clients"\nplan.execute()\nword = "with a smile"')
    assert (sent(tree), spelled(tree)) == ([1], [2])

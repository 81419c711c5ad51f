"""Arguments that could be swapped unseen are passed by name.

The type checker sees a swap of two arguments of different types. Of two neighbours of one type it sees nothing, so no call in
the product passes such neighbours by place, and none passes more than five arguments by place.
"""

from __future__ import annotations

import ast
import re
from dataclasses import dataclass
from pathlib import Path

import pytest

import dimbo

SOURCE = Path(dimbo.__file__).parent
MOST_BY_PLACE = 5
ALWAYS_TOGETHER = {("practice_id", "client_id")}
"""Everywhere in this order, and swapped they name no row at all: keys and row-level security refuse it."""


@dataclass(frozen=True)
class Parameters:
    """The parameters of a function or the fields of a value: name and type, as written."""

    named: tuple[tuple[str, str], ...]


def module_of(file: Path) -> str:
    parts = ["dimbo", *file.relative_to(SOURCE).with_suffix("").parts]
    return ".".join(parts[:-1] if parts[-1] == "__init__" else parts)


TREES = {module_of(f): ast.parse(f.read_text(encoding="utf-8")) for f in sorted(SOURCE.rglob("*.py"))}
PACKAGES = {module_of(f) for f in SOURCE.rglob("__init__.py")}


def parameters(node: ast.stmt) -> Parameters | None:
    if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
        every = [*node.args.posonlyargs, *node.args.args]
        return Parameters(tuple((a.arg, ast.unparse(a.annotation) if a.annotation else "") for a in every))
    if isinstance(node, ast.ClassDef):
        own = [n for n in node.body if isinstance(n, ast.AnnAssign) and isinstance(n.target, ast.Name)]
        return Parameters(tuple((n.target.id, ast.unparse(n.annotation)) for n in own)) if own else None
    return None


KNOWN = {f"{m}.{n.name}": p for m, t in TREES.items() for n in t.body if hasattr(n, "name") and (p := parameters(n))}


def names_in(module: str) -> dict[str, str]:
    """What the names of a module stand for, by full name."""
    tree, found = TREES[module], {}
    for node in ast.walk(tree):
        if isinstance(node, ast.ImportFrom):
            here = module.split(".") if module in PACKAGES else module.split(".")[:-1]
            base = ".".join([*here[: len(here) - node.level + 1], *filter(None, [node.module])]) if node.level else node.module
            found |= {a.asname or a.name: f"{base}.{a.name}" for a in node.names}
    return found | {n.name: f"{module}.{n.name}" for n in tree.body if hasattr(n, "name")}


NAMES = {m: names_in(m) for m in TREES}


def methods() -> dict[str, Parameters]:
    """Methods whose name only one class has, without the value they are called on: by that name their calls are known."""
    found: dict[str, list[Parameters]] = {}
    for tree in TREES.values():
        for node in (f for c in tree.body if isinstance(c, ast.ClassDef) for f in c.body if isinstance(f, ast.FunctionDef)):
            found.setdefault(node.name, []).append(Parameters(parameters(node).named[1:]))
    return {name: every[0] for name, every in found.items() if len(every) == 1}


def called(module: str, func: ast.expr) -> str | None:
    """The full name of what is called, through what packages offer; None for others' code."""
    if isinstance(func, ast.Name):
        full = NAMES[module].get(func.id)
    elif isinstance(func, ast.Attribute) and isinstance(func.value, ast.Name) and func.value.id in NAMES[module]:
        full = f"{NAMES[module][func.value.id]}.{func.attr}"
    elif isinstance(func, ast.Attribute) and func.attr in METHODS:
        return f"method {func.attr}"
    else:
        return None
    while full and full not in KNOWN:
        package, _, name = full.rpartition(".")
        onward = NAMES.get(package, {}).get(name)
        if onward is None or onward == full:
            return None
        full = onward
    return full


def kind(annotation: str) -> str:
    """Types that the checker lets stand for one another count as one."""
    plain = annotation.replace(" | None", "")
    plain = re.sub(r"\b(list|Sequence|Iterable|Collection|Iterator|frozenset|set)\b", "many", plain)
    return re.sub(r"\b(dict|Mapping)\b", "table", plain)


def swappable(call: ast.Call, of: Parameters) -> list[str]:
    """Neighbours of one type that a call passes by place."""
    pairs = zip(of.named, of.named[1 : len(call.args)], strict=False)
    return [f"{a} and {b}" for (a, s), (b, t) in pairs if s and kind(s) == kind(t) and (a, b) not in ALWAYS_TOGETHER]


METHODS = methods()
KNOWN |= {f"method {name}": of for name, of in METHODS.items()}
CALLS = [(m, n, full) for m, t in TREES.items() for n in ast.walk(t) if isinstance(n, ast.Call) and (full := called(m, n.func))]


def test_no_neighbours_of_one_type_are_passed_by_place():
    assert len(CALLS) > 4000, "calls are not found any more"
    found = [
        f"{m}:{n.lineno} {full.rpartition('.')[2]}: {' and '.join(pairs)}" for m, n, full in CALLS if (pairs := swappable(n, KNOWN[full]))
    ]
    assert found == []


def test_no_call_passes_many_arguments_by_place():
    many = [f"{m}:{n.lineno} {full}" for m, n, full in CALLS if len(n.args) > MOST_BY_PLACE]
    assert many == []


def test_no_tuple_is_spread_into_a_value():
    values = [(m, n, full) for m, n, full in CALLS if full.rpartition(".")[2][:1].isupper()]
    assert [f"{m}:{n.lineno} {full}" for m, n, full in values if any(isinstance(a, ast.Starred) for a in n.args)] == []


@pytest.mark.parametrize(
    ("code", "expected"),
    [("f(1, 2)", ["a and b"]), ("f(1, b=2)", []), ("f(a=1, b=2)", []), ("f(1)", []), ("f(1, 2, 'x')", ["a and b"])],
)
def test_the_search_sees_neighbours(code, expected):
    """Proof of the proof: a call that passes two numbers by place is found."""
    call = ast.parse(code).body[0].value
    assert swappable(call, Parameters((("a", "int"), ("b", "int | None"), ("c", "str")))) == expected

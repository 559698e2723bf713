"""How much the tests notice: one small thing of the rules is changed at a time, and the tests are run.

Each change is made in a copy of the tree; the tests that can see the changed room are run there until one fails.
``CHANGES=`` says how many are tried, ``WHERE=`` in which folder (below ``rasante/``); what no test noticed is listed.
"""

from __future__ import annotations

import ast
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

from tests.browser.harness import ROOT

#: What a part of a formula or a condition is taken for instead.
COMPARED = {ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq}
RECKONED = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}
CALLED = {"min": "max", "max": "min", "any": "all", "all": "any"}
#: How long tests may run over one change before it counts as noticed [s].
PATIENCE_S = 900


def places(tree: ast.AST) -> Iterator[ast.AST]:
    """Everything in functions that can be changed, without the words of errors, types and docstrings."""
    for function in ast.walk(tree):
        if isinstance(function, ast.FunctionDef):
            for statement in function.body:
                yield from _inside(statement)


def _inside(node: ast.AST) -> Iterator[ast.AST]:
    if isinstance(node, ast.FunctionDef | ast.JoinedStr | ast.Raise | ast.AnnAssign | ast.Assert):
        return
    if changed(node) is not None:
        yield node
    for child in ast.iter_child_nodes(node):
        yield from _inside(child)


def changed(node: ast.AST) -> ast.AST | None:
    """The same piece with one small thing changed; None where there is nothing to change."""
    match node:
        case ast.Compare(ops=[op]) if type(op) in COMPARED:
            return ast.Compare(node.left, [COMPARED[type(op)]()], node.comparators)
        case ast.BinOp(op=op) if type(op) in RECKONED and not isinstance(node.left, ast.Constant | ast.JoinedStr):
            return ast.BinOp(node.left, RECKONED[type(op)](), node.right)
        case ast.BoolOp(op=ast.And()):
            return ast.BoolOp(ast.Or(), node.values)
        case ast.BoolOp(op=ast.Or()):
            return ast.BoolOp(ast.And(), node.values)
        case ast.UnaryOp(op=ast.Not() | ast.USub()):
            return node.operand
        case ast.Constant(value=bool(value)):
            return ast.Constant(not value)
        case ast.Constant(value=int(value)) if value > 1:
            return ast.Constant(value + 1)
        case ast.Constant(value=float(value)) if value:
            return ast.Constant(value * 1.1)
        case ast.Call(func=ast.Name(id=name)) if name in CALLED and len(node.args) != 0:
            return ast.Call(ast.Name(CALLED[name], ast.Load()), node.args, node.keywords)
        case ast.Expr(value=ast.Call()):
            return ast.Pass()
        case ast.With(items=[ast.withitem(context_expr=ast.Call())]):
            return ast.If(ast.Constant(True), node.body, [])
    return None


class Changed(ast.NodeTransformer):
    """Puts the changed piece where the old one stood."""

    def __init__(self, old: ast.AST, new: ast.AST) -> None:
        self.old, self.new = old, ast.copy_location(new, old)

    def visit(self, node: ast.AST) -> ast.AST:
        return self.new if node is self.old else self.generic_visit(node)


def tests_of(source: Path) -> list[str]:
    """The tests that can see a file: those that name its room, of core or API."""
    floor, room = "core" if "core" in source.parts else "api", source.parent.name
    names = re.compile(rf"\bcore\.{room}\b" if floor == "core" else rf"\b{room.rstrip('s')}")
    found = [file for file in sorted((ROOT / "tests" / floor).glob("test_*.py")) if names.search(file.read_text())]
    quick = [file for file in found if file.stem != "test_contract"]
    return [".".join(file.relative_to(ROOT).with_suffix("").parts) for file in quick] or [f"tests.{floor}"]


def noticed(copy: Path, tests: list[str]) -> bool:
    """Whether any of the tests fails in the copy."""
    command = [sys.executable, "manage.py", "test", "--settings", "tests.settings", "--failfast", *tests]
    environment = {**os.environ, "RASANTE_DATA": str(copy / "var")}
    try:
        run = subprocess.run(command, cwd=copy, env=environment, capture_output=True, timeout=PATIENCE_S, check=False)
    except subprocess.TimeoutExpired:
        return True
    return run.returncode != 0


def strength() -> str:
    """Change small things one by one; at least 85 of 100 must be noticed."""
    left, tried = [], 0
    with tempfile.TemporaryDirectory(prefix="rasante-strength-") as folder:
        copy = Path(folder) / "tree"
        shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(".*", "node_modules", "var"))
        sources = sorted((copy / "rasante" / os.environ.get("WHERE", "core")).rglob("*.py"))
        sources = [one for one in sources if "migrations" not in one.parts and not one.name.startswith("__")]
        every = [(source, at) for source in sources for at, _ in enumerate(places(ast.parse(source.read_text())))]
        for source, at in random.sample(every, min(int(os.environ.get("CHANGES", "60")), len(every))):
            text = source.read_text()
            tree = ast.parse(text)
            old = list(places(tree))[at]
            new = changed(old)
            assert new is not None
            says = f"{source.relative_to(copy)}:{getattr(old, 'lineno', 0)}: {ast.unparse(old).splitlines()[0]}"
            source.write_text(ast.unparse(ast.fix_missing_locations(Changed(old, new).visit(tree))))
            seen = noticed(copy, tests_of(source))
            source.write_text(text)
            print(f"  {'noticed' if seen else 'NOT    '}  {says}", flush=True)
            tried += 1
            left += [] if seen else [says]
    share = 1 - len(left) / max(tried, 1)
    assert share >= 0.85, f"only {share:.0%} of {tried} changes were noticed; not: " + "; ".join(left)
    return f"{share:.0%} of {tried} changes were noticed"

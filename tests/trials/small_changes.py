"""Small changes of one piece of a program: another comparison, another constant, a call left out.

A comparison is turned about. That "less" becomes "at most" is not tried: no reading tells the two apart.
"""

from __future__ import annotations

import ast
from collections.abc import Iterator

#: What a part of a formula or a condition is taken for instead.
COMPARED = {ast.Lt: ast.Gt, ast.LtE: ast.GtE, ast.Gt: ast.Lt, ast.GtE: ast.LtE, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq}
RECKONED = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}
#: Less than this only keeps a division from nothing [1].
GUARD = 1e-8
CALLED = {"min": "max", "max": "min", "any": "all", "all": "any"}


def places(tree: ast.AST) -> Iterator[ast.AST]:
    """Everything in functions that can be changed, without the words of errors, types and docstrings."""
    for function in ast.walk(tree):
        if isinstance(function, ast.FunctionDef):
            for statement in function.body:
                yield from _inside(statement)


def _inside(node: ast.AST) -> Iterator[ast.AST]:
    if isinstance(node, ast.FunctionDef | ast.JoinedStr | ast.Raise | ast.AnnAssign | ast.Assert):
        return
    if isinstance(node, ast.keyword) and node.arg == "strict":
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
        case ast.Constant(value=float(value)) if abs(value) > GUARD:
            return ast.Constant(value * 1.1)
        case ast.Call(func=ast.Name(id=name)) if name in CALLED and len(node.args) != 0:
            return ast.Call(ast.Name(CALLED[name], ast.Load()), node.args, node.keywords)
        case ast.Expr(value=ast.Call()):
            return ast.Pass()
        case ast.With(items=[ast.withitem(context_expr=ast.Call())]):
            return ast.If(ast.Constant(True), node.body, [])
    return None


def change(text: str, at: int) -> tuple[ast.Module, int, str]:
    """A program with its piece number `at` changed, with that piece's line and its words."""
    tree = ast.parse(text)
    old = list(places(tree))[at]
    new = changed(old)
    assert new is not None
    line, words = getattr(old, "lineno", 0), ast.unparse(old).splitlines()[0]
    return ast.fix_missing_locations(_Changed(old, new).visit(tree)), line, words


class _Changed(ast.NodeTransformer):
    """Puts the changed piece where the old one stood."""

    def __init__(self, old: ast.AST, new: ast.AST) -> None:
        self.old, self.new = old, ast.copy_location(new, old)

    def visit(self, node: ast.AST) -> ast.AST:
        return self.new if node is self.old else self.generic_visit(node)

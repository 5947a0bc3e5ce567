"""What is changed: a figure by a quarter, a comparison to its nearest other. Cosmic Ray finds the places."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import parso.python.tree
from cosmic_ray.ast import ast_nodes, get_ast
from cosmic_ray.mutating import mutate_code
from cosmic_ray.operators.operator import Operator

#: Comparison → its nearest other: the limit itself falls to the other side, or the answer turns.
NEAREST = {
    "<": "<=",
    "<=": "<",
    ">": ">=",
    ">=": ">",
    "==": "!=",
    "!=": "==",
    "is": "is not",
    "is not": "is",
    "in": "not in",
    "not in": "in",
}


def _word(part: Any) -> str:
    return " ".join(part.get_code().split())


def _shown_only(node: Any) -> bool:
    """Digits that a figure is rounded to, and how much of a list is told: no rule hangs on them."""
    above = node.parent
    text = above.get_code() if above is not None else ""
    called = above.parent.get_code().strip() if above is not None and above.parent is not None else ""
    return bool(re.match(r"round\(", called)) or bool(re.match(r"\[?:", text.strip()))


class Figure(Operator):
    """A figure a quarter higher; a count by one."""

    def mutation_positions(self, node: Any) -> Iterator[tuple[Any, Any]]:
        if isinstance(node, parso.python.tree.Number) and not _shown_only(node):
            yield node.start_pos, node.end_pos

    def mutate(self, node: Any, index: int) -> Any:
        value = eval(node.value)
        changed = value + 1 if isinstance(value, int) and abs(value) < 8 else value * 1.25 or 0.25
        changed = round(changed) if isinstance(value, int) else changed
        return parso.python.tree.Number(f"{changed!r}", node.start_pos, node.prefix)

    @classmethod
    def examples(cls) -> tuple[Any, ...]:
        return ()


class Comparison(Operator):
    """A comparison to its nearest other."""

    def mutation_positions(self, node: Any) -> Iterator[tuple[Any, Any]]:
        if node.type == "comparison":
            for child in node.children[1::2]:
                if _word(child) in NEAREST:
                    yield child.start_pos, child.end_pos

    def mutate(self, node: Any, index: int) -> Any:
        at = [at for at in range(1, len(node.children), 2) if _word(node.children[at]) in NEAREST][index]
        word = NEAREST[_word(node.children[at])]
        node.children[at] = parso.python.tree.Operator(word, node.children[at].start_pos, " ")
        return node

    @classmethod
    def examples(cls) -> tuple[Any, ...]:
        return ()


OPERATORS: tuple[Operator, ...] = (Figure(), Comparison())


@dataclass(frozen=True)
class Change:
    """One change of a file."""

    path: str
    operator: str
    occurrence: int
    line: int
    was: str
    becomes: str


def changes(path: Path, root: Path) -> list[tuple[Change, str]]:
    """Every change of a file, with the source as it would be."""
    source = path.read_text()
    lines = source.splitlines()
    found = []
    for operator in OPERATORS:
        places = [
            start for node in ast_nodes(get_ast(source)) for start, _ in operator.mutation_positions(node)
        ]
        for occurrence, (line, _) in enumerate(places):
            changed = mutate_code(source, operator, occurrence)
            after = changed.splitlines()[line - 1].strip()
            about = Change(
                path.relative_to(root).as_posix(),
                operator=type(operator).__name__,
                occurrence=occurrence,
                line=line,
                was=lines[line - 1].strip(),
                becomes=after,
            )
            found.append((about, changed))
    return found

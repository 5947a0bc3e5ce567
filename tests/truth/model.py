"""What a case of a rule is, and how it is held against the rule."""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from math import nan
from typing import Any

from tests.conftest import ROOT
from tests.source import parsed
from ventmap.core.basics import Call, VentMapError

CORE = ROOT / "ventmap" / "core"
#: Functions that make a call; the first argument is its rule.
MAKERS = ("Call", "_call", "one_call", "_fault", "missing")


@dataclass(frozen=True)
class Case:
    """One rule of the core.

    Parameters
    ----------
    rule : str
        As the source has it; one that is passed in, by the function that makes the call, in brackets.
    judge : callable
        Takes a value, gives a call, calls, or something that holds them.
    must, must_not : object
        A value that has to be stopped or held, and one that has to pass.
    over, within : object
        The same just either side of the limit; for a rule of kind, the nearest other answer.
    missing : tuple
        What stands where nothing was read.
    """

    rule: str
    judge: Callable[[Any], Any]
    must: Any
    must_not: Any
    over: Any
    within: Any
    missing: tuple[Any, ...] = (nan,)


def calls_of(found: Any) -> list[Call]:
    """Every call in what a rule's function gives back."""
    if found is None:
        return []
    if isinstance(found, Call):
        return [found]
    for name in ("calls", "call"):
        if hasattr(found, name):
            return calls_of(getattr(found, name))
    if isinstance(found, Iterable) and not isinstance(found, str):
        return [call for item in found for call in calls_of(item)]
    return []


def outcome(case: Case, value: Any) -> str:
    """``go``, ``hold`` or ``stop`` of this rule; ``refused`` with a sentence; ``silent`` where it says
    nothing.
    """
    try:
        found = calls_of(case.judge(value))
    except VentMapError:
        return "refused"
    mine = [call for call in found if case.rule.startswith("(") or call.rule.split("#")[0] == case.rule]
    verdicts = {call.verdict.value for call in mine}
    return next((v for v in ("stop", "hold", "go") if v in verdicts), "silent")


def passes_unseen(case: Case, value: Any) -> bool:
    """Whether nothing at all would stand in the way with this reading: no hold, stop or refusal by any
    rule.
    """
    try:
        found = calls_of(case.judge(value))
    except VentMapError:
        return False
    return not any(call.verdict.value in ("hold", "stop") for call in found)


def short(case: Case) -> list[str]:
    """What this case proves wrong, in words; empty where the rule holds."""
    told = []
    for name, value in (("must", case.must), ("just over", case.over)):
        if outcome(case, value) not in ("hold", "stop", "refused"):
            told.append(f"{name}: {value!r} gives {outcome(case, value)}")
    for name, value in (("must not", case.must_not), ("just within", case.within)):
        if outcome(case, value) not in ("go", "silent"):
            told.append(f"{name}: {value!r} gives {outcome(case, value)}")
    told += [f"missing: {value!r} passes" for value in case.missing if passes_unseen(case, value)]
    return told


def _always_go(node: ast.Call) -> bool:
    """A call that only tells what was done: it can neither hold nor stop by its verdict."""
    given = [word.value for word in node.keywords if word.arg == "verdict"] + node.args[1:2]
    return bool(given) and ast.unparse(given[0]) == "Verdict.go"


def rules_of_the_core() -> set[str]:
    """Every rule that the source can name: read from it, so that a new one is missed by nobody."""
    found = set()
    for path in sorted(CORE.rglob("*.py")):
        tree = parsed(path.read_text())
        for function in ast.walk(tree):
            if not isinstance(function, ast.FunctionDef):
                continue
            for node in ast.walk(function):
                if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.args):
                    continue
                if node.func.id not in MAKERS or _always_go(node):
                    continue
                rule = node.args[0]
                if isinstance(rule, ast.Constant) and isinstance(rule.value, str):
                    found.add(rule.value)
                elif isinstance(rule, ast.JoinedStr):
                    found.add(ast.unparse(rule)[2:-1].split("{")[0] + "*")
                elif isinstance(rule, ast.Name) and rule.id == "rule" and not function.name.startswith("_"):
                    found.add(f"({function.name})")
    return found

"""Evidence in the shape of a grid: what is typed in, what is judged, what is drawn."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

from ..basics import BadInput, Call, Evidence, VentMapError, Verdict, parse, worst


@dataclass(frozen=True)
class GridResult:
    """`calls` in full; `view` is what the screen draws; `complete` where nothing is missing."""

    calls: tuple[Call, ...]
    view: dict[str, Any] = field(default_factory=dict)
    complete: bool = True

    @property
    def verdict(self) -> Verdict:
        found = worst(self.calls)
        return found if self.complete or found is not Verdict.go else Verdict.hold


def settle(result: GridResult, title: str, rule: str) -> list[Call]:
    """What stands in the ledger: each fault by itself, or one line that all is well.

    Rules are numbered (``rule``, ``rule#2`` …), so that two faults of one kind stand side by side.
    """
    faults = [call for call in result.calls if call.verdict is not Verdict.go]
    if not faults:
        because = tuple(item for call in result.calls for item in call.because)[:12]
        sources = list(dict.fromkeys(call.source for call in result.calls))
        advice = result.calls[0].do_next if len(result.calls) == 1 else "Everything within its limits."
        return [
            Call(
                rule,
                verdict=Verdict.go,
                because=because,
                do_next=advice,
                source="; ".join(sources),
                title=title,
            )
        ]
    return [replace(call, rule=rule if n == 0 else f"{rule}#{n + 1}") for n, call in enumerate(faults)]


def figure(typed: Any, quantity: str, unit: str, where: str) -> float | None:
    """A typed figure, or None where nothing is typed; errors name the place in the grid."""
    text = "" if typed is None else str(typed).strip()
    if not text:
        return None
    try:
        return parse(text, quantity, unit)
    except VentMapError as error:
        raise BadInput(f"{where}: {error.sentence}", where) from None


def missing(rule: str, title: str, done: int, wanted: int, advice: str) -> Call:
    """A grid that is not full yet."""
    return Call(
        rule,
        verdict=Verdict.hold,
        because=(Evidence("entered", done, wanted),),
        do_next=advice,
        source="Run sheet of this job",
        title=title,
    )

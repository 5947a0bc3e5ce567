"""Grids by cylinder: the injector set, body codes, seal timers."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

from ..basics import BadInput, Call, Evidence, Verdict
from ..fuel import BodyCode, compare_read_back, flow_spread_call
from ..runsheet import CodesAsked, SealsAsked, SetAsked
from .data import Cell, CodesData, SealsData, SetData
from .model import GridResult, figure, missing


def injector_set(about: SetAsked, data: SetData) -> GridResult:
    """``revisions``: part number and revision of each; ``flows``: measured flow of each, where a sheet came
    with them.
    """
    count = about.count
    revisions = [("" if text is None else str(text)).strip().upper() for text in data.revisions][:count]
    if len([text for text in revisions if text]) < count:
        return GridResult(
            (
                missing(
                    "fit.revision",
                    "Injector set",
                    len([r for r in revisions if r]),
                    count,
                    "Enter each injector's number and revision.",
                ),
            ),
            complete=False,
        )
    kinds = Counter(revisions)
    one = len(kinds) == 1
    calls = [
        Call(
            "fit.revision",
            verdict=Verdict.go if one else Verdict.hold,
            because=tuple(Evidence(name, f"{number} of {count}") for name, number in kinds.most_common()),
            do_next="One revision." if one else "Mixed revisions across cylinders: get one set.",
            source="One set, one revision",
            title="Injector set",
        )
    ]
    flows = [
        figure(text, "injector_flow", "cm³/min", f"injector {n + 1}") for n, text in enumerate(data.flows)
    ][:count]
    known = [flow for flow in flows if flow is not None]
    if len(known) == count:
        calls.append(flow_spread_call(known, about.good, about.usable))
    elif known:
        calls.append(
            missing("injector.spread", "Flow spread", len(known), count, "Enter every flow, or none.")
        )
    return GridResult(tuple(calls))


def body_codes(about: CodesAsked, data: CodesData) -> GridResult:
    """Correction codes on injector bodies.

    ``codes``: per cylinder one typed code for each field; ``before``: what the computer held, where that was
    read; ``read``: what it says after entry.
    Fields: each with ``name``, ``scale``, ``offset`` and ``step`` (the computer's storage step).
    """
    fields, count = about.fields, about.cylinders
    typed, read = _table(data.codes, count, len(fields)), _table(data.read, count, len(fields))
    held = _table(data.before, count, len(fields))
    entry: list[list[float | None]] = [[None] * len(fields) for _ in range(count)]
    words = [["" for _ in fields] for _ in range(count)]
    calls: list[Call] = []
    done = 0
    for column, spec in enumerate(fields):
        codes = []
        for row in range(count):
            text = typed[row][column]
            if text:
                if not text.isdigit():
                    raise BadInput(
                        f"Cylinder {row + 1}, {spec.name}: a body code is digits only, as printed.",
                        "codes",
                    )
                code = BodyCode(
                    row + 1, int(text), scale=spec.scale, offset=spec.offset, storage_step=spec.step
                )
                entry[row][column] = round(code.entry_value, 4)
                codes.append((row, code))
        back = {
            row: figure(read[row][column], "fraction", "fraction", f"cylinder {row + 1}, {spec.name}")
            for row, _ in codes
        }
        if len(codes) == count and all(value is not None for value in back.values()):
            for (row, code), call in zip(
                codes,
                compare_read_back(
                    [c for _, c in codes],
                    [float(back[r] or 0.0) for r, _ in codes],
                    [_held(held[r][column], f"cylinder {r + 1}, {spec.name}, before") for r, _ in codes],
                ),
                strict=True,
            ):
                words[row][column] = call.title
                calls.append(replace(call, title=f"{spec.name}, cylinder {code.cylinder}: {call.title}"))
            done += 1
    if done < len(fields):
        calls.append(
            missing(
                "injector.body_code",
                "Body codes",
                done,
                len(fields),
                "Enter every code, then read every cylinder back.",
            )
        )
    return GridResult(tuple(calls), {"entry": entry, "words": words}, complete=done == len(fields))


def _held(text: str, where: str) -> float | None:
    return figure(text, "fraction", "fraction", where) if text else None


def _table(given: Sequence[Sequence[Cell]], rows: int, columns: int) -> list[list[str]]:
    """Cells as texts, empty where there is none, shape (rows, columns)."""

    def cell(row: int, column: int) -> str:
        there = row < len(given) and column < len(given[row])
        return str(given[row][column]).strip() if there and given[row][column] is not None else ""

    return [[cell(row, column) for column in range(columns)] for row in range(rows)]


def seal_timers(about: SealsAsked, data: SealsData) -> GridResult:
    """``seals``: per cylinder ``seconds`` from the last die to seated, or None while open. Over the time:
    size it again.
    """
    count, within = about.cylinders, about.seconds
    seals = {row.cylinder: row.seconds for row in data.seals}
    calls = []
    for number in range(1, count + 1):
        seconds = seals.get(number)
        if seconds is None:
            continue
        over = float(seconds) > within
        calls.append(
            Call(
                "fit.seal",
                verdict=Verdict.hold if over else Verdict.go,
                because=(
                    Evidence(
                        f"cylinder {number}, last die to seated", round(float(seconds)), within, unit="s"
                    ),
                ),
                do_next=(
                    "Too late: the seal has grown back. Size it again, then seat it."
                    if over
                    else "Seated in time."
                ),
                source="The seal's maker; about a minute unless stated",
                title=f"Seal {number}",
            )
        )
    if len(calls) < count:
        calls.append(missing("fit.seal", "Seals", len(calls), count, "Size and seat the next one."))
        return GridResult(tuple(calls), complete=False)
    return GridResult(tuple(calls))

"""Grids by cylinder: compression, the injector set, body codes, seal timers."""

from __future__ import annotations

from collections import Counter
from typing import Any

from ..basics import BadInput, Call, Evidence, Verdict
from ..fuel import BodyCode, compare_read_back, flow_spread_call
from .model import About, Data, GridResult, figure, missing

LEAK_DOWN = "leak-down"


def compression(about: About, data: Data) -> GridResult:
    """Readings ``kpa``: one typed figure for each cylinder, within the maker's range, none far below the
    best.

    Where ``how`` says leak-down, ``leak`` instead: the share of air lost by each, none above the most
    allowed.
    """
    if data.get("how") == LEAK_DOWN:
        return _leak_down(about, data)
    count = int(about["cylinders"])
    typed = list(data.get("kpa", ()))
    values = [figure(text, "pressure", "kPa", f"cylinder {n + 1}") for n, text in enumerate(typed[:count])]
    given = [value for value in values if value is not None]
    if len(given) < count:
        return GridResult(
            (missing("intake.compression", "Compression", len(given), count, "Enter every cylinder."),),
            complete=False,
        )
    best, low, high, spread = max(given), float(about["low"]), float(about["high"]), float(about["spread"])
    calls = []
    for number, value in enumerate(given, 1):
        below = 1 - value / best
        bad = value < low or value > high or below > spread + 1e-9
        why = (
            "below the maker's least"
            if value < low
            else "above the maker's most: oil or carbon"
            if value > high
            else "far below the best"
        )
        advice = (
            f"Cylinder {number} is {why}: leak-down test, and repair before power rises." if bad else "Even."
        )
        calls.append(
            Call(
                "intake.compression",
                verdict=Verdict.hold if bad else Verdict.go,
                because=(
                    Evidence(f"cylinder {number}", round(value), f"{low:g}–{high:g}", unit="kPa"),
                    Evidence("below the best", round(100 * below, 1), 100 * spread, unit="%"),
                ),
                do_next=advice,
                source="Maker's range; spread between cylinders",
                title=f"Compression, cylinder {number}",
            )
        )
    return GridResult(tuple(calls), {"below_best": [1 - value / best for value in given]})


def _leak_down(about: About, data: Data) -> GridResult:
    count, most = int(about["cylinders"]), float(about["leak_most"])
    given = [
        figure(text, "fraction", "%", f"cylinder {n + 1}")
        for n, text in enumerate(list(data.get("leak", ()))[:count])
    ]
    known = [value for value in given if value is not None]
    if len(known) < count:
        return GridResult(
            (missing("intake.compression", "Leak-down", len(known), count, "Enter every cylinder."),),
            complete=False,
        )
    calls = []
    for number, value in enumerate(known, 1):
        if not 0.0 <= value <= 1.0:
            raise BadInput(f"cylinder {number}: a leak lies between 0 and 100 %.", f"cylinder {number}")
        bad = value > most + 1e-9
        calls.append(
            Call(
                "intake.compression",
                verdict=Verdict.hold if bad else Verdict.go,
                because=(
                    Evidence(
                        f"cylinder {number} loses", round(100 * value, 1), round(100 * most, 1), unit="%"
                    ),
                ),
                do_next=(
                    f"Listen where cylinder {number} blows: intake, exhaust, oil filler or radiator; repair"
                    " before power rises."
                    if bad
                    else "Even."
                ),
                source="Leak-down at top dead centre; the maker's figure wins",
                title=f"Leak-down, cylinder {number}",
            )
        )
    return GridResult(tuple(calls))


def injector_set(about: About, data: Data) -> GridResult:
    """``revisions``: part number and revision of each; ``flows``: measured flow of each, where a sheet came
    with them.
    """
    count = int(about["count"])
    revisions = [str(text).strip().upper() for text in data.get("revisions", ())][:count]
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
        figure(text, "injector_flow", "cm³/min", f"injector {n + 1}")
        for n, text in enumerate(data.get("flows", ()))
    ][:count]
    known = [flow for flow in flows if flow is not None]
    if len(known) == count:
        calls.append(
            flow_spread_call(known, float(about.get("good", 0.02)), float(about.get("usable", 0.04)))
        )
    elif known:
        calls.append(
            missing("injector.spread", "Flow spread", len(known), count, "Enter every flow, or none.")
        )
    return GridResult(tuple(calls))


def body_codes(about: About, data: Data) -> GridResult:
    """Correction codes on injector bodies.

    ``codes``: per cylinder one typed code for each field; ``read``: per cylinder what the computer says after
    entry.
    ``about["fields"]``: each with ``name``, ``scale``, ``offset`` and ``step`` (the computer's storage step).
    """
    fields, count = about["fields"], int(about["cylinders"])
    typed, read = _table(data, "codes", count, len(fields)), _table(data, "read", count, len(fields))
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
                        f"Cylinder {row + 1}, {spec['name']}: a body code is digits only, as printed.",
                        "codes",
                    )
                code = BodyCode(
                    row + 1,
                    int(text),
                    scale=float(spec["scale"]),
                    offset=float(spec.get("offset", 0.0)),
                    storage_step=float(spec["step"]),
                )
                entry[row][column] = round(code.entry_value, 4)
                codes.append((row, code))
        back = {
            row: figure(read[row][column], "fraction", "fraction", f"cylinder {row + 1}, {spec['name']}")
            for row, _ in codes
        }
        if len(codes) == count and all(value is not None for value in back.values()):
            for (row, code), call in zip(
                codes,
                compare_read_back([c for _, c in codes], [float(back[r] or 0.0) for r, _ in codes]),
                strict=True,
            ):
                words[row][column] = call.title
                calls.append(_titled(call, f"{spec['name']}, cylinder {code.cylinder}: {call.title}"))
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


def _titled(call: Call, title: str) -> Call:
    return Call(
        call.rule,
        verdict=call.verdict,
        because=call.because,
        do_next=call.do_next,
        source=call.source,
        title=title,
        protects=call.protects,
    )


def _table(data: Data, name: str, rows: int, columns: int) -> list[list[str]]:
    given: Any = data.get(name) or []
    if not isinstance(given, list) or not all(isinstance(row, list) for row in given):
        raise BadInput(f"The grid's {name} must be rows of fields.", name)
    return [
        [str(given[r][c]).strip() if r < len(given) and c < len(given[r]) else "" for c in range(columns)]
        for r in range(rows)
    ]


def seal_timers(about: About, data: Data) -> GridResult:
    """``seals``: per cylinder ``seconds`` from the last die to seated, or None while open. Over the time:
    size it again.
    """
    count, within = int(about["cylinders"]), float(about["seconds"])
    seals = {int(row["cylinder"]): row.get("seconds") for row in data.get("seals", ())}
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

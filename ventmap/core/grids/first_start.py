"""Grids of the first start: output tests, base timing by light."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict
from ..electrics import OutputSeen, base_timing_calls, locked, output_call, trigger_offset
from ..runsheet import OutputsAsked, TimingAsked
from .data import OutputEntry, OutputsData, TimingData
from .model import GridResult, figure, missing

#: A typed offset agrees with the sum within this [°].
OFFSET_WITHIN = 0.5


def outputs(about: OutputsAsked, data: OutputsData) -> GridResult:
    """``rows``: what each output showed; ``interlocks``: what is confirmed now. View: what is locked still,
    by key.
    """
    rows = {row.key: row for row in data.rows}
    calls: list[Call] = []
    done, shut, left = 0, {}, []
    for output in about.outputs:
        lock = locked(output, data.interlocks)
        if lock is not None:
            shut[output.key] = lock.says
        row = rows.get(output.key, OutputEntry(key=output.key))
        if row.seen:
            calls.append(output_call(output, OutputSeen(key=row.key, seen=row.seen, amps=row.amps)))
        # What was tried without what makes it safe was not tried.
        if row.seen and locked(output, row.confirmed) is None:
            done += 1
        else:
            left.append(output.label)
    coils = [output for output in about.outputs if output.kind == "coil"]
    absent = [one for one in coils if rows.get(one.key, OutputEntry(key=one.key)).seen == "absent"]
    if coils and len(absent) == len(coils):
        calls.append(missing("start.output", "Coils", 0, len(coils), "Some coil makes the spark: try it."))
    calls += _alone(about, rows)
    if done < len(about.outputs):
        advice = f"Still to try, or to confirm first: {', '.join(left)}."
        calls.append(missing("start.output", "Output tests", done, len(about.outputs), advice))
    return GridResult(tuple(calls), {"locked": shut}, complete=done == len(about.outputs))


def _alone(about: OutputsAsked, rows: dict[str, OutputEntry]) -> list[Call]:
    """One that is exchanged has a partner: where every other of its kind answers at its own place, an answer
    is wrong.
    """
    found = []
    for kind in ("coil", "injector"):
        of_kind = [rows.get(output.key) for output in about.outputs if output.kind == kind]
        seen = [row.seen for row in of_kind if row is not None]
        if len(of_kind) > 1 and sorted(seen) == sorted(["other", *["works"] * (len(of_kind) - 1)]):
            found.append(
                Call(
                    "start.output",
                    verdict=Verdict.hold,
                    because=(Evidence(f"{kind}s at another's place", 1, 0),),
                    do_next=f"One {kind} alone cannot be exchanged, it has a partner: try all of them again.",
                    source="What answers at another's place has left its own",
                    title="Answers contradict each other",
                )
            )
    return found


def base_timing(about: TimingAsked, data: TimingData) -> GridResult:
    """``read``: the light at idle; where it is off, ``old`` offset, the ``new`` one that was set, and the
    light ``again``; ``high``: the light at the higher speed. View: ``offset`` to enter [°].
    """
    read = figure(data.read, "spark", "°", "light at idle")
    old = figure(data.old, "spark", "°", "trigger offset as it was")
    new = figure(data.new, "spark", "°", "trigger offset as set")
    again = figure(data.again, "spark", "°", "light at idle, again")
    high = figure(data.high, "spark", "°", f"light at {about.rpm:g} rpm")
    if read is None:
        return GridResult(
            (missing("timing.base", "Base timing", 0, 2, "Lock spark, then read the light at idle."),),
            complete=False,
        )
    limits = {"locked": about.locked_deg, "hold_deg": about.hold_deg, "stop_deg": about.stop_deg}
    first = base_timing_calls(read=read, **limits)
    wanted = None if old is None else round(trigger_offset(old, about.locked_deg, read), 1)
    view = {"offset": wanted, "off": first[0].verdict is not Verdict.go}
    if first[0].verdict is Verdict.go and again is None:
        base = read
    elif again is None or new is None:
        # What the first reading found stands until the light says otherwise.
        return GridResult(tuple(first), view, complete=False)
    else:
        base = again
    calls = base_timing_calls(read=base, high=high, **limits)
    if new is not None and wanted is not None and abs(new - wanted) > OFFSET_WITHIN:
        calls.append(_set_otherwise(new, wanted))
    if high is None:
        advice = f"Hold {about.rpm:g} rpm without load and read the light again."
        calls.append(missing("timing.speed", "Base timing with speed", 1, 2, advice))
    return GridResult(tuple(calls), view, complete=high is not None)


def _set_otherwise(new: float, wanted: float) -> Call:
    return Call(
        "timing.offset",
        verdict=Verdict.hold,
        because=(Evidence("offset as set", round(new, 1), round(wanted, 1), unit="°"),),
        do_next="Another offset was set than the reading asks for: set it again, or read the light again.",
        source="new offset = old + (read − locked)",
        title="Trigger offset",
    )

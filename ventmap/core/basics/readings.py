"""A reading against the limits of its step."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from .calls import Call, Evidence, Verdict


def judge_reading(
    rule: str,
    title: str,
    label: str,
    value: float,
    unit: str,
    low: float | None,
    high: float | None,
    wrong: str = "",
    protects: str = "",
) -> Call:
    """Hold where a reading lies outside its limits (either may be absent); canonical units throughout.

    Where the limits protect people or the computer, outside is a stop.
    """
    under, over = low is not None and value < low, high is not None and value > high
    if low is not None and high is not None:
        limit: float | str | None = f"{low:g}–{high:g}"
    else:
        limit = low if low is not None else high
    if (under or over) and protects:
        advice = f"Too {'low' if under else 'high'}. {wrong} Do not go on: put it right and read again."
    elif under or over:
        advice = (
            f"Too {'low' if under else 'high'}. {wrong} Put it right and read again, or overrule with the"
            " reason."
        )
    else:
        advice = "Within limits."
    outside = Verdict.stop if protects else Verdict.hold
    return Call(
        rule,
        verdict=outside if under or over else Verdict.go,
        because=(Evidence(label, round(value, 3), limit, unit=unit),),
        do_next=advice.replace("  ", " "),
        source="Run sheet of this job",
        title=title,
        protects=protects if under or over else "",
    )


def judge_answer(rule: str, title: str, label: str, verdict: Verdict, advice: str) -> Call:
    """What was seen, against what should be; a stop here protects people."""
    protects = "people" if verdict is Verdict.stop else ""
    return Call(
        rule,
        verdict=verdict,
        because=(Evidence("seen", label),),
        do_next=advice,
        source="Run sheet of this job",
        title=title,
        protects=protects,
    )


def codes_call(rule: str, codes: list[tuple[str, str]] | None) -> Call:
    """Judge a read of trouble codes, (code, status): any one is a hold until it is explained, pending ones
    too, for they were seen once already. None: nobody read them, which is no *none stored*.
    """
    if codes is None:
        return Call(
            rule,
            verdict=Verdict.hold,
            because=(Evidence("codes", "not read", "read"),),
            do_next="Read stored and pending codes, and say what the tester shows: the codes, or none.",
            source="SAE J1979 services 03 and 07",
            title="Trouble codes were not read",
        )
    stored = [code for code, status in codes if status != "pending"]
    evidence = [
        Evidence("stored codes", len(stored), 0),
        Evidence("pending codes", len(codes) - len(stored), 0),
    ]
    evidence += [Evidence(code, status) for code, status in codes]
    return Call(
        rule,
        verdict=Verdict.hold if codes else Verdict.go,
        because=tuple(evidence),
        do_next=(
            "Explain each before going on: repair it, or overrule with the reason."
            if codes
            else "None stored, none pending."
        ),
        source="SAE J1979 services 03 and 07",
        title="Trouble codes",
    )


def works_calibration_call(answered: str, works: str) -> Call:
    """Whether the stock computer still holds what its works put in. Tunes are never stacked, so it is asked
    about before anything is built on it.
    """
    same = answered.strip().upper() == works.strip().upper()
    return Call(
        "baseline.calibration",
        verdict=Verdict.go if same else Verdict.hold,
        because=(Evidence("calibration answered", answered or "none", works),),
        do_next=(
            "As its works left it."
            if same
            else "Ask the owner who wrote to it. Go back to the works' file before a baseline is taken, or"
            " overrule with what is known: a later file of the maker's, say."
        ),
        source="Tunes are never stacked",
        title="What is in the stock computer",
    )


def stock_log_call(windows: Collection[str], findings: Sequence[tuple[str, Verdict]]) -> Call:
    """Whether a stock log shows idle, cruise and a pull, and whether what it shows may be tuned over.

    A finding weighs here as it does in Log: a vehicle with a fault is repaired first.
    """
    wanted = ("idle", "cruise", "pull")
    missing = [kind for kind in wanted if kind not in windows]
    heaviest: Verdict = max((verdict for _, verdict in findings), key=lambda v: v.weight, default=Verdict.go)
    verdict: Verdict
    if heaviest is not Verdict.go:
        verdict, advice = (
            heaviest,
            "It was there before anything was touched: repair it first, then log again.",
        )
    elif missing:
        verdict, advice = Verdict.hold, f"Log again with {' and '.join(missing)}."
    else:
        verdict, advice = Verdict.go, "This is the before."
    seen = ", ".join(kind for kind in wanted if kind in windows) or "none"
    return Call(
        "baseline.log",
        verdict=verdict,
        because=(
            Evidence("windows", seen, ", ".join(wanted)),
            *(Evidence("there before", title) for title, _ in findings),
        ),
        do_next=advice,
        source="Baseline practice; a vehicle with a fault is repaired first",
        title="Stock log",
    )


def baseline_call(missing: Sequence[str]) -> Call:
    """No gain is claimed on a baseline that is not whole: what is missing may be what differs."""
    return Call(
        "prove.baseline",
        verdict=Verdict.hold if missing else Verdict.go,
        because=tuple(Evidence("missing before", title) for title in missing)
        or (Evidence("codes, log and runs before", "there"),),
        do_next=(
            "The gain is shown and not claimed: the before is not whole."
            if missing
            else "The before is whole."
        ),
        source="Baseline practice",
        title="Baseline",
    )


def after_call(version: str, inside: str) -> Call:
    """Runs after prove a map only where one was in: `version` is empty where none was, `inside` says
    what is.
    """
    return Call(
        "prove.loaded",
        verdict=Verdict.go if version else Verdict.hold,
        because=(Evidence("map in the computer", version or "none"),),
        do_next="The runs after were made on it."
        if version
        else f"{inside} Load one, then make the runs after.",
        source="What was never loaded proves nothing",
        title="Map that is proven",
    )

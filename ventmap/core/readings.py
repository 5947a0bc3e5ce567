"""A reading against the limits of its step."""

from __future__ import annotations

from .calls import Call, Evidence, Verdict


def judge_reading(
    rule: str, title: str, label: str, value: float, unit: str, low: float | None, high: float | None, wrong: str = ""
) -> Call:
    """Hold where a reading lies outside its limits (either may be absent); canonical units throughout."""
    under, over = low is not None and value < low, high is not None and value > high
    if low is not None and high is not None:
        limit: float | str | None = f"{low:g}–{high:g}"
    else:
        limit = low if low is not None else high
    if under or over:
        advice = f"Too {'low' if under else 'high'}. {wrong} Put it right and read again, or overrule with the reason."
    else:
        advice = "Within limits."
    return Call(
        rule, Verdict.hold if under or over else Verdict.go, (Evidence(label, round(value, 3), limit, unit),),
        advice.replace("  ", " "), "Run sheet of this job", title=title,
    )  # fmt: skip


def codes_call(rule: str, codes: list[tuple[str, str]]) -> Call:
    """Judge a read of trouble codes, (code, status): any stored one is a hold until it is explained."""
    stored = [code for code, status in codes if status == "stored"]
    evidence = [Evidence("codes", len(codes), 0)] + [Evidence(code, status) for code, status in codes]
    return Call(
        rule, Verdict.hold if stored else Verdict.go, tuple(evidence),
        "Explain each before going on: repair it, or overrule with the reason." if stored else "None stored.",
        "SAE J1979 services 03 and 07", title="Trouble codes",
    )  # fmt: skip

"""What a review enters in the ledger."""

from __future__ import annotations

from collections.abc import Sequence

from ..basics import Call, Evidence, Verdict
from .advice import after_clean
from .model import CONCERNS, Review, ReviewContext


def log_calls(review: Review, name: str, context: ReviewContext | None = None) -> list[Call]:
    """A call for each finding; one for what the job is about and the log could not show; else that all is
    well.

    Parameters
    ----------
    review : Review
    name : str
        What the log is called.
    context : ReviewContext, optional
        What the job is about, and what is fitted.
    """
    context = context or ReviewContext()
    calls = [
        Call(
            f"log.{finding.kind}",
            verdict=finding.verdict,
            because=finding.evidence,
            do_next=finding.next,
            source=f"detector {finding.kind}",
            title=finding.title,
        )
        for finding in review.findings
    ]
    unseen = _unseen(review, context)
    if unseen is not None:
        calls.append(unseen)
    if calls:
        return calls
    return [
        Call(
            "log.clean",
            verdict=Verdict.go,
            because=(
                Evidence("checks passed", len(review.checked)),
                Evidence("not checkable", len(review.not_checkable)),
            ),
            do_next=after_clean(context),
            source="every detector that the channels allow",
            title=f"{name}: nothing found",
        )
    ]


def of_another_state(name: str, differs: Sequence[str]) -> Call:
    """A log of what is on the vehicle no more: it says nothing of what is.

    Parameters
    ----------
    differs : sequence of str
        What is another now, in words.
    """
    return Call(
        "log.state",
        verdict=Verdict.hold,
        because=(Evidence("another now than when it was logged", ", ".join(differs)),),
        do_next="Log what is on the vehicle now.",
        source="A log speaks of the state that it was driven in",
        title=f"{name} is of before",
    )


#: Findings that only a pull or an idle shows: a log without one says nothing of them.
SHOWN_BY = {
    **dict.fromkeys(
        (
            "boost_falls_with_rpm",
            "boost_plateau_low",
            "lean_under_load",
            "rich_under_load",
            "knock",
            "injector_limit",
            "fuel_pressure_drop",
            "smoke",
            "heat_soak",
            "misfire",
        ),
        "pull",
    ),
    **dict.fromkeys(("trim_hunting", "idle_unstable", "idle_high_air"), "idle"),
}


def could_show(review: Review, kind: str) -> bool:
    """Whether a finding of this kind would have been seen in a log: its channels are there, and what shows it
    was driven. Only such a log lifts what an earlier one found.
    """
    shown_by = SHOWN_BY.get(kind)
    driven = shown_by is None or any(window.kind == shown_by for window in review.windows)
    return kind in review.checked and driven


def _unseen(review: Review, context: ReviewContext) -> Call | None:
    """A hold where the log could not show what the job is about: what was not looked at is not sound."""
    missing = {entry.kind: entry.missing for entry in review.not_checkable}
    driven = any(window.kind == "pull" for window in review.windows)
    because = []
    for concern in context.concerns:
        kinds = CONCERNS[concern]
        if concern == "mixture" and context.probe.blind:
            # Where no probe reads it, heat of the exhaust tells a lean cylinder.
            kinds = (*kinds, "exhaust_hot")
        lacking = [missing[kind] for kind in kinds if kind in missing]
        if lacking and not any(kind in review.checked for kind in kinds):
            least = min(lacking, key=len)
            if driven or not any(lack.startswith("load (") for lack in least):
                because.append(Evidence(concern, ", ".join(least) + " missing"))
    if context.concerns and not driven:
        because.append(Evidence("pull under load", "none in this log"))
    if not because:
        return None
    return Call(
        "log.unchecked",
        verdict=Verdict.hold,
        because=tuple(because),
        do_next="Log these channels over one warm pull, then judge again.",
        source="What could not be checked is not sound",
        title="Not shown by this log",
    )

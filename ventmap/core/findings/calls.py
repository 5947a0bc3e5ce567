"""What a review enters in the ledger."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict
from .model import Review


def log_calls(review: Review, name: str) -> list[Call]:
    """A call for each finding; where there is none, one that says what was looked for.

    Parameters
    ----------
    review : Review
    name : str
        What the log is called.
    """
    if not review.findings:
        return [
            Call(
                "log.clean",
                verdict=Verdict.go,
                because=(
                    Evidence("checks passed", len(review.checked)),
                    Evidence("not checkable", len(review.not_checkable)),
                ),
                do_next="Correct fuel from this log.",
                source="every detector that the channels allow",
                title=f"{name}: nothing found",
            )
        ]
    return [
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

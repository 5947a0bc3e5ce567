"""Rounds held against each other."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict

#: Share of driven time [%] by which a round must fall short of the one before to have made it worse.
WORSE_BY = 2.0


def worse_call(share: float, earlier: float, version: str) -> Call | None:
    """A hold where a round made it worse; None where it did not.

    Parameters
    ----------
    share, earlier : float
        Driven time within the limit now and with the map before [%].
    version : str
        The map before.
    """
    if share >= earlier - WORSE_BY:
        return None
    return Call(
        "correct.worse",
        verdict=Verdict.hold,
        because=(
            Evidence("now within", round(share, 1), unit="%"),
            Evidence(f"with {version}", earlier, unit="%"),
        ),
        do_next=f"Go back to {version}, or log again to be sure.",
        source="a round must not make it worse",
        title="This round made it worse",
    )

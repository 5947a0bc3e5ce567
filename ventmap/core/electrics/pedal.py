"""The pedal and its tracks."""

from __future__ import annotations

from ..basics import Call, Evidence, Verdict


def pedal_calls(
    closed_v: float,
    open_v: float,
    twin_closed_v: float | None = None,
    twin_open_v: float | None = None,
    *,
    low_v: float = 0.3,
    high_v: float = 4.7,
    span_v: float = 2.0,
    agree: float = 0.05,
) -> list[Call]:
    """Judge a pedal or throttle learn: `low_v` to `high_v`, span ≥ `span_v` [V], twin tracks within the share
    `agree`.

    The twin track may run over another range; it is compared as a share of its own 5 V-referred span.
    """
    low, high, span = min(closed_v, open_v), max(closed_v, open_v), abs(open_v - closed_v)
    inside = low >= low_v and high <= high_v
    calls = [
        Call(
            "pedal.range",
            verdict=Verdict.go if inside and span >= span_v else Verdict.stop,
            because=(
                Evidence("closed", closed_v, f"{low_v:g}–{high_v:g}", unit="V"),
                Evidence("open", open_v, f"{low_v:g}–{high_v:g}", unit="V"),
                Evidence("span", round(span, 2), span_v, unit="V"),
            ),
            do_next=(
                "Closed and open are learned."
                if inside and span >= span_v
                else "Do not start: check the pedal's plug, feed and ground, then learn again."
            ),
            source="Electronic throttle practice",
            title="Pedal range",
            protects="people",
        )
    ]
    if twin_closed_v is not None and twin_open_v is not None:
        # Tracks that carry the same or half the voltage: compare both ends after scaling by the full-pedal
        # ratio.
        ratio = open_v / twin_open_v if twin_open_v else 0.0
        off = abs(twin_closed_v * ratio - closed_v) / max(span, 1e-9)
        together = 0.45 <= ratio <= 2.2 and off <= agree
        calls.append(
            Call(
                "pedal.tracks",
                verdict=Verdict.go if together else Verdict.stop,
                because=(Evidence("tracks differ", round(100 * off, 1), 100 * agree, unit="%"),),
                do_next=(
                    "Both tracks agree."
                    if together
                    else "Do not start: a track is out. Check both signal wires."
                ),
                source="Twin tracks watch each other",
                title="Pedal tracks",
                protects="people",
            )
        )
    return calls

"""Pedal and throttle, and their tracks."""

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
    half_v: float | None = None,
    twin_half_v: float | None = None,
    what: str = "pedal",
) -> list[Call]:
    """Judge a pedal or throttle learn: `low_v` to `high_v`, span ≥ `span_v` [V], twin tracks within the share
    `agree`; `what` it is: ``"pedal"`` or ``"throttle"``.

    Notes
    -----
    The twin track may run the other way, offset or over another range: both are compared as a share of their
    own
    travel, half way down (`half_v`, `twin_half_v`), for at their ends any two tracks agree.
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
                else f"Do not start: check the {what}'s plug, feed and ground, then learn again."
            ),
            source="Electronic throttle practice",
            title=f"{what.capitalize()} range",
            protects="people",
        )
    ]
    if twin_closed_v is not None and twin_open_v is not None:
        calls += _tracks(
            (closed_v, half_v, open_v),
            (twin_closed_v, twin_half_v, twin_open_v),
            (low_v, high_v, span_v),
            agree,
            what,
        )
    return calls


#: A track and its twin at closed, half way and open [V]; half way where it was read.
Track = tuple[float, float | None, float]


def _tracks(
    one: Track, twin: Track, limits: tuple[float, float, float], agree: float, what: str
) -> list[Call]:
    low_v, high_v, span_v = limits
    span = abs(twin[2] - twin[0])
    # A twin may carry half the voltage, as many do.
    sound = min(twin[0], twin[2]) >= low_v / 2 and max(twin[0], twin[2]) <= high_v and span >= span_v / 2
    because = [
        Evidence("twin track closed", twin[0], f"{low_v / 2:g}–{high_v:g}", unit="V"),
        Evidence("twin track open", twin[2], f"{low_v / 2:g}–{high_v:g}", unit="V"),
        Evidence("its span", round(span, 2), span_v / 2, unit="V"),
    ]
    verdict, advice = Verdict.go, "Both tracks agree."
    if not sound:
        verdict, advice = (
            Verdict.stop,
            "Do not start: the twin track does not travel. Check both signal wires.",
        )
    elif one[1] is None or twin[1] is None or one[2] == one[0]:
        verdict, advice = Verdict.hold, "Read both tracks half way down: at their ends any two tracks agree."
    else:
        shares = [
            (track[1] - track[0]) / (track[2] - track[0]) for track in (one, twin) if track[1] is not None
        ]
        off = abs(shares[0] - shares[1])
        because.append(Evidence("tracks differ half way", round(100 * off, 1), 100 * agree, unit="%"))
        monotonic = all(0.0 < share < 1.0 for share in shares)
        if off > agree or not monotonic:
            verdict, advice = Verdict.stop, "Do not start: a track is out. Check both signal wires."
    return [
        Call(
            "pedal.tracks",
            verdict=verdict,
            because=tuple(because),
            do_next=advice,
            source="Twin tracks watch each other; each as a share of its own travel",
            title=f"{what.capitalize()} tracks",
            protects="people" if verdict is Verdict.stop else "",
        )
    ]

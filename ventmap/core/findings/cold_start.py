"""A cold start, judged by its own short log: was it cold, how long it cranked, does it live, is it sane."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..basics import BadInput, Call, Evidence, Floats, HouseRules, Verdict
from ..logs import Log

DEFAULTS = HouseRules()
#: Below this it stands [rpm]; from here it has caught, as a share of its idle speed.
STANDS_RPM, CAUGHT = 50.0, 0.7
#: What is judged of idle: from so long after it caught, and at least for so long [s].
SETTLES_S, JUDGED_S = 10.0, 10.0
#: A cold engine idles faster, up to this much above its warm idle; slower by this much it labours [rpm].
FASTER_RPM, SLOWER_RPM = 900.0, 150.0


@dataclass(frozen=True)
class ColdStart:
    """What a short log shows. `crank_s` is None where the log begins with the engine running."""

    coolant_c: float | None
    crank_s: float | None
    lowest_rpm: float
    idle_rpm: float | None
    mixture: float | None
    stands_at_end: bool = False


def read_cold_start(log: Log, idle_rpm: float) -> ColdStart:
    """Figures of a cold start.

    Parameters
    ----------
    log : Log
        From key-on to some half a minute of idle; needs engine speed.
    idle_rpm : float
        Warm idle speed of this engine [rpm].

    Raises
    ------
    BadInput
        If the log has no engine speed, or never shows it running.
    """
    if not log.has("rpm"):
        raise BadInput("The log has no engine speed: a start cannot be judged without it.", "rpm")
    rpm, time = np.asarray(log.channels["rpm"], float), np.asarray(log.time_s, float)
    known = np.isfinite(rpm)
    caught = np.flatnonzero(known & (rpm >= CAUGHT * idle_rpm))
    if not caught.size:
        raise BadInput(
            "The engine never runs in this log. Begin with the key, end after half a minute.", "rpm"
        )
    first = int(caught[0])
    turning = np.flatnonzero(known & (rpm > STANDS_RPM))
    stood = bool((rpm[:first][known[:first]] <= STANDS_RPM).any())
    crank = float(time[first] - time[int(turning[0])]) if stood else None
    after = known & (time >= time[first] + 1.0)
    settled = known & (time >= time[first] + SETTLES_S)
    return ColdStart(
        coolant_c=_first(log, "coolant"),
        crank_s=crank,
        lowest_rpm=float(rpm[after].min()) if after.any() else 0.0,
        idle_rpm=_mean(rpm[settled], time[settled]),
        mixture=_mixture(log, settled),
        stands_at_end=bool(rpm[known][-1] <= STANDS_RPM),
    )


def _first(log: Log, name: str) -> float | None:
    if not log.has(name):
        return None
    values = np.asarray(log.channels[name], float)
    values = values[np.isfinite(values)]
    return float(values[0]) if values.size else None


def _mean(values: Floats, time: Floats) -> float | None:
    """Mean of a stretch that is long enough to be judged."""
    return float(values.mean()) if values.size and time[-1] - time[0] >= JUDGED_S - 0.5 else None


def _mixture(log: Log, rows: Floats) -> float | None:
    """Mixture with what the trims add, as lambda of the map alone."""
    if not log.has("lambda"):
        return None
    values = np.asarray(log.channels["lambda"], float).copy()
    for trim in ("stft_1", "ltft_1", "global_trim"):
        if log.has(trim):
            values = values * (1.0 + np.nan_to_num(np.asarray(log.channels[trim], float)) / 100.0)
    values = values[rows & np.isfinite(values)]
    return float(np.median(values)) if values.size else None


def cold_start_calls(
    seen: ColdStart, idle_rpm: float, *, petrol: bool = True, rules: HouseRules = DEFAULTS
) -> list[Call]:
    """Judge a cold start: cold, caught in time, alive, idle sane, mixture sane (spark ignition alone)."""
    calls = [_cold(seen.coolant_c, rules["cold.coolant"]), _crank(seen.crank_s, rules["cold.crank_s"])]
    calls.append(_alive(seen, 0.5 * idle_rpm))
    calls.append(_idle(seen.idle_rpm, idle_rpm))
    if petrol and seen.mixture is not None:
        calls.append(_sane(seen.mixture, rules["cold.lean"]))
    return calls


def _call(rule: str, title: str, good: bool, because: tuple[Evidence, ...], go: str, hold: str) -> Call:
    return Call(
        rule,
        verdict=Verdict.go if good else Verdict.hold,
        because=because,
        do_next=go if good else hold,
        source="Cold start, by its own short log; house rule",
        title=title,
    )


def _cold(coolant: float | None, most: float) -> Call:
    return _call(
        "cold.cold",
        "It was cold",
        coolant is not None and coolant <= most,
        (
            Evidence(
                "coolant at key on", "not logged" if coolant is None else round(coolant, 1), most, unit="°C"
            ),
        ),
        "A cold start.",
        "Not a cold start, or nobody knows: leave it overnight, log coolant, and start it again.",
    )


def _crank(seconds: float | None, most: float) -> Call:
    shown = "log begins with it running" if seconds is None else round(seconds, 1)
    return _call(
        "cold.crank",
        "Cranking until it caught",
        seconds is not None and seconds <= most,
        (Evidence("cranked for", shown, most, unit="s"),),
        "It catches.",
        "Log from key on, before the starter turns."
        if seconds is None
        else "Too long: fuel for the start by coolant, pump that holds its pressure, battery.",
    )


def _alive(seen: ColdStart, least: float) -> Call:
    lowest = seen.lowest_rpm
    fuel = "after-start fuel and idle air over coolant."
    return _call(
        "cold.alive",
        "It lived after it caught",
        lowest >= least,
        (Evidence("lowest speed after it caught", round(lowest), round(least), unit="rpm"),),
        "It lives by itself.",
        f"It stands at the end of this log. Cut the log before the key went off; where it died: {fuel}"
        if seen.stands_at_end
        else f"It nearly died, or did: {fuel}",
    )


def _idle(mean: float | None, warm: float) -> Call:
    good = mean is not None and warm - SLOWER_RPM <= mean <= warm + FASTER_RPM
    shown = f"{warm - SLOWER_RPM:g}–{warm + FASTER_RPM:g}"
    return _call(
        "cold.idle",
        "Cold idle",
        good,
        (Evidence("cold idle", "log too short" if mean is None else round(mean), shown, unit="rpm"),),
        "Idle holds.",
        "Log half a minute after it caught."
        if mean is None
        else "High: air past a seal, or idle air over coolant. Low: mixture, spark or idle air.",
    )


def _sane(mixture: float, share: float) -> Call:
    lean = 100.0 * (mixture - 1.0)
    return _call(
        "cold.mixture",
        "Mixture cold",
        lean <= share and mixture >= 0.7,
        (
            Evidence("mixture of the map, cold", round(mixture, 3), unit="lambda"),
            Evidence("leaner than 1", round(lean, 1), share, unit="%"),
        ),
        "Rich enough to live, not so rich that it washes.",
        "Lean: warm-up fuel over coolant. Below 0.7: too much of it, plugs foul and oil thins.",
    )

"""The first minutes of a running engine."""

from __future__ import annotations

from .calls import Call, Evidence, Verdict

OIL_WITHIN_S = 5.0
CHARGING = (13.2, 14.8)
IDLE_WITHIN = 100.0
MIXTURE_WITHIN = 0.10


def running_calls(
    *, idle_rpm: float, idle_target: float, battery_v: float, mixture: float, trim_percent: float, codes: int, started: bool = True
) -> list[Call]:
    """Judge a fresh start: it runs, charges, idles at target, no codes, mixture sane.

    `mixture` in lambda; `trim_percent` is long + short.
    """
    if not started:
        return [
            Call("start.runs", Verdict.hold, (Evidence("engine speed", round(idle_rpm), 500.0, "rpm"),),
                 "It does not run. Check fuel pressure, trigger and that the map is loaded; do not crank over 10 s.",
                 "Starting practice", title="The engine does not run")
        ]  # fmt: skip
    off = abs(idle_rpm - idle_target)
    fuel_off = mixture * (1 + trim_percent / 100) - 1
    sane = abs(fuel_off) <= MIXTURE_WITHIN
    return [
        Call("start.idle", Verdict.go if off <= IDLE_WITHIN else Verdict.hold,
             (Evidence("idle", round(idle_rpm), round(idle_target), "rpm"), Evidence("off target", round(off), IDLE_WITHIN, "rpm")),
             "Idle holds." if off <= IDLE_WITHIN else "High: look for air past a lower seal. Low: mixture or spark.",
             "Idle within 100 rpm of target", title="Idle"),
        Call("start.charging", Verdict.go if CHARGING[0] <= battery_v <= CHARGING[1] else Verdict.hold,
             (Evidence("battery, running", round(battery_v, 2), f"{CHARGING[0]}–{CHARGING[1]}", "V"),),
             "Charging." if CHARGING[0] <= battery_v <= CHARGING[1] else "Find the charging fault first: dead time moves with voltage.",
             "Charging 13.2–14.8 V", title="Charging"),
        Call("start.mixture", Verdict.go if sane else Verdict.hold,
             (Evidence("fuel to add", round(100 * fuel_off, 1), 100 * MIXTURE_WITHIN, "%"), Evidence("mixture", round(mixture, 3), unit="lambda")),
             "Sane enough to warm up and log." if sane else "Set global trim in 5 % steps to keep it alive; split the fuel error once warm.",
             "A start needs mixture within 10 %", title="Mixture at first idle"),
        Call("start.codes", Verdict.go if codes == 0 else Verdict.hold, (Evidence("codes", codes, 0),),
             "None." if codes == 0 else "Read them and put their cause right.", "SAE J1979", title="Codes after the start"),
    ]  # fmt: skip

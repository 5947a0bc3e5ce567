"""The first minutes of a running engine."""

from __future__ import annotations

from ..basics import Call, Evidence, HouseRules, Verdict

DEFAULTS = HouseRules()


def running_calls(
    *,
    idle_rpm: float,
    idle_target: float,
    battery_v: float,
    mixture: float,
    trim_percent: float,
    codes: int,
    started: bool = True,
    rules: HouseRules = DEFAULTS,
) -> list[Call]:
    """Judge a fresh start: it runs, charges, idles at target, no codes, mixture sane.

    `mixture` in lambda; `trim_percent` is long + short.
    """
    if not started:
        return [
            Call(
                "start.runs",
                verdict=Verdict.hold,
                because=(Evidence("engine speed", round(idle_rpm, 0), 500.0, unit="rpm"),),
                do_next=(
                    "It does not run. Check fuel pressure, trigger and that the map is loaded; do not crank"
                    " over 10 s."
                ),
                source="Starting practice",
                title="The engine does not run",
            )
        ]
    off = abs(idle_rpm - idle_target)
    fuel_off = mixture * (1 + trim_percent / 100) - 1
    within, least, most, fuel_limit = (
        rules["start.idle"],
        rules["start.charging_low"],
        rules["start.charging_high"],
        rules["start.mixture"],
    )
    sane = 100 * abs(fuel_off) <= fuel_limit
    charging = least <= battery_v <= most
    return [
        Call(
            "start.idle",
            verdict=Verdict.go if off <= within else Verdict.hold,
            because=(
                Evidence("idle", round(idle_rpm, 0), round(idle_target, 0), unit="rpm"),
                Evidence("off target", round(off, 0), within, unit="rpm"),
            ),
            do_next=(
                "Idle holds."
                if off <= within
                else "High: look for air past a lower seal. Low: mixture or spark."
            ),
            source="Idle control, warm; house rule",
            title="Idle",
        ),
        Call(
            "start.charging",
            verdict=Verdict.go if charging else Verdict.hold,
            because=(Evidence("battery, running", round(battery_v, 2), f"{least:g}–{most:g}", unit="V"),),
            do_next=(
                "Charging." if charging else "Find the charging fault first: dead time moves with voltage."
            ),
            source="Charging system practice",
            title="Charging",
        ),
        Call(
            "start.mixture",
            verdict=Verdict.go if sane else Verdict.hold,
            because=(
                Evidence("fuel to add", round(100 * fuel_off, 1), fuel_limit, unit="%"),
                Evidence("mixture", round(mixture, 3), unit="lambda"),
            ),
            do_next=(
                "Sane enough to warm up and log."
                if sane
                else "Set global trim in 5 % steps to keep it alive; split the fuel error once warm."
            ),
            source="A start needs a mixture that trims can carry",
            title="Mixture at first idle",
        ),
        Call(
            "start.codes",
            verdict=Verdict.go if codes == 0 else Verdict.hold,
            because=(Evidence("codes", codes, 0),),
            do_next="None." if codes == 0 else "Read them and put their cause right.",
            source="SAE J1979",
            title="Codes after the start",
        ),
    ]

"""The first minutes of a running engine."""

from __future__ import annotations

from ..basics import BadInput, Call, Evidence, HouseRules, Verdict

DEFAULTS = HouseRules()


def running_calls(
    *,
    idle_rpm: float,
    idle_target: float,
    battery_v: float,
    mixture: float,
    trim_percent: float,
    codes: int,
    global_trim: float = 0.0,
    started: bool = True,
    rules: HouseRules = DEFAULTS,
) -> list[Call]:
    """Judge a fresh start: it runs, charges, idles at target, no codes, mixture sane.

    `mixture` in lambda; `trim_percent` is long + short; `global_trim` is what was added
    everywhere (fraction): fuel that the map does not give.
    """
    if not started:
        return [
            Call(
                "start.runs",
                verdict=Verdict.hold,
                because=(Evidence("engine speed", round(idle_rpm, 0), 500.0, unit="rpm"),),
                do_next=(
                    "It does not run. Check fuel pressure, trigger and that the map is loaded; do not crank"
                    " over 10 s. Pops and dies: too lean, global trim in 5 % steps keeps it alive."
                ),
                source="Starting practice",
                title="The engine does not run",
            )
        ]
    off = abs(idle_rpm - idle_target)
    fuel_off = mixture * (1 + trim_percent / 100) * (1 + global_trim) - 1
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
                Evidence("global trim", round(100 * global_trim, 1), unit="%"),
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


def next_global_trim(now: float, steps: int, rules: HouseRules = DEFAULTS) -> float:
    """Global trim after so many steps up or down, as a fraction; 0 steps take it off.

    Raises
    ------
    BadInput
        Beyond what the house allows: then something else is wrong.

    Examples
    --------
    >>> next_global_trim(0.05, 1), next_global_trim(0.15, 0)
    (0.1, 0.0)
    """
    step, most = rules["start.trim_step"], rules["start.trim_most"]
    aim = round(100 * now + steps * step, 1) if steps else 0.0
    if abs(aim) > most + 1e-9:
        raise BadInput(
            f"More than {most:g} % everywhere is no trim: look at fuel pressure, injector sheet and the"
            " mixture sensor first.",
            "steps",
        )
    return aim / 100


def global_trim_call(fraction: float, rules: HouseRules = DEFAULTS) -> Call:
    """Global trim keeps a lean engine alive until it is warm; it is never left in."""
    percent = round(100 * fraction, 1)
    off = percent == 0.0
    return Call(
        "start.global_trim",
        verdict=Verdict.go if off else Verdict.hold,
        because=(Evidence("global trim", percent, 0, unit="%"),),
        do_next=(
            "None is on."
            if off
            else "Warm it up, log idle and load, split the fuel error in Correct: flow or dead time takes its"
            " place, and the next write takes it off."
        ),
        source="Global trim is for staying alive, not for running",
        title="Global trim",
    )

"""Limits that any form of map may hold: engine speed, road speed, fan."""

from __future__ import annotations

from ..basics import BadInput, Call, Evidence, HouseRules, Verdict, parse
from ..forms import FORMS, REV_LIMIT, SPEED_LIMIT, Calibration
from .job_of_map import MapJob
from .own_tables import holding

VALVES = "Within the maker's valve-train limit"
RESTS = "It rests and it cools."
UNKNOWN_OPENING = "On and off agree. Whether it ever rests is not known: say where the thermostat opens."
TYRES = "A speed limit is never above the lowest tyre speed rating fitted"


def limit_calls(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    """Rev limit, speed limit and fan, wherever this form holds them."""
    calls = []
    for where, limit in _rev_limits(calibration):
        calls.append(rev_limit_call(limit, job.rev_limit, where))
    for where, speed in _speed_limits(calibration):
        if job.on_tyres:
            calls.append(speed_limit_call(speed, job.tyre_kmh, where))
    fan = _value(calibration, "fan_on")
    if fan is not None:
        calls += fan_calls(fan, _value(calibration, "fan_off"), job, rules)
    return calls


def _value(calibration: Calibration, name: str) -> float | None:
    """A scalar of that name, or what an option of that name is to be."""
    if name in calibration.scalars:
        return float(calibration.scalars[name])
    for row in calibration.lists.get("options", ()):
        if row["key"] == name:
            return _ours(name, float(row["wanted"]), str(row.get("unit", "")))
    return None


def _ours(name: str, value: float, unit: str) -> float | None:
    """An option's figure in our unit; None where nobody knows its unit."""
    kind = FORMS["full"].scalars.get(name)
    if kind is None or not kind.quantity or unit in ("", kind.unit):
        return value
    try:
        return parse(f"{value:g} {unit}", kind.quantity)
    except BadInput:
        return None


def _highest(calibration: Calibration, holds: str) -> list[tuple[str, float]]:
    """Of each table by its own name that holds this: what it is called, its highest figure."""
    return [
        (calibration.title_of(name), float(calibration.tables[name].values.max()))
        for name in holding(calibration, "", holds)
    ]


def _speed_limits(calibration: Calibration) -> list[tuple[str, float]]:
    own = _value(calibration, "speed_limit")
    return [*([("", own)] if own is not None else []), *_highest(calibration, SPEED_LIMIT)]


def _rev_limits(calibration: Calibration) -> list[tuple[str, float]]:
    found = []
    own = _value(calibration, "rev_limit")
    if own is not None:
        found.append(("", own))
    for row in calibration.lists.get("positions", ()):
        if row.get("rev_limit") is not None:
            found.append((f"position {row['number']:g}", float(row["rev_limit"])))
    return [*found, *_highest(calibration, REV_LIMIT)]


def rev_limit_call(limit: float, maker: float | None, where: str = "") -> Call:
    """A rev limit against the valve train's [rpm]; one that nobody knows holds."""
    beyond = maker is not None and limit > maker + 1e-9
    return Call(
        "map.rev_limit",
        verdict=Verdict.stop if beyond else Verdict.hold if maker is None else Verdict.go,
        because=(
            Evidence(
                f"rev limit{f', {where}' if where else ''}",
                limit,
                maker if maker is not None else "not known",
                unit="rpm",
            ),
        ),
        do_next="Within what the valves can follow."
        if not beyond and maker is not None
        else f"Set {maker:g} rpm or less: valves that float meet pistons."
        if maker is not None
        else "Find the maker's limit of this engine and put it on the shelf.",
        source=VALVES,
        title="Rev limit",
    )


def speed_limit_call(limit: float, tyre: float | None, where: str = "") -> Call:
    """A speed limit against the lowest rating of the tyres that are on [km/h]; an unknown one holds."""
    beyond = tyre is not None and limit > tyre + 1e-9
    return Call(
        "map.speed_limit",
        verdict=Verdict.stop if beyond else Verdict.hold if tyre is None else Verdict.go,
        because=(
            Evidence(
                f"speed limit{f', {where}' if where else ''}",
                limit,
                tyre if tyre is not None else "not known",
                unit="km/h",
            ),
        ),
        do_next="The tyres stand it. Road law still decides."
        if not beyond and tyre is not None
        else f"Set {tyre:g} km/h or less, or fit tyres that are rated for it."
        if tyre is not None
        else "Read the letter after the load index on all tyres that are on, and type the lowest.",
        source=TYRES,
        title="Speed limit and tyres",
        protects="people" if beyond else "",
    )


def fan_calls(fan_on: float, fan_off: float | None, job: MapJob, rules: HouseRules) -> list[Call]:
    """Fan on and off [°C] against the thermostat, the stock setting, and each other."""
    bad = []
    least = None
    if job.thermostat_c is not None:
        least = job.thermostat_c + rules["map.fan_above"]
        if fan_on <= least:
            bad.append(f"Set it above {least:g} °C, or the fan never rests.")
    if job.stock_fan_c is not None and fan_on >= job.stock_fan_c:
        bad.append(f"Set it below stock ({job.stock_fan_c:g} °C), or leave it as it was.")
    apart = fan_on - fan_off if fan_off is not None else None
    low, high = rules["map.fan_apart_low"], rules["map.fan_apart_high"]
    if apart is not None and not low <= apart <= high:
        bad.append(f"Let it go off {low:g} to {high:g} °C lower than it comes on.")
    because = [Evidence("fan on", fan_on, least if least is not None else "opening not known", unit="°C")]
    if apart is not None:
        because.append(Evidence("off, below on", apart, high, unit="°C"))
    if job.stock_fan_c is not None:
        because.append(Evidence("stock fan on", job.stock_fan_c, unit="°C"))
    return [
        Call(
            "map.fan",
            verdict=Verdict.hold if bad else Verdict.go,
            because=tuple(because),
            do_next=" ".join(bad) or (RESTS if least is not None else UNKNOWN_OPENING),
            source="Above the thermostat's opening, below stock, off 4–6 °C lower",
            title="Fan",
        )
    ]


def fan_defaults(thermostat_c: float, stock_on_c: float, stock_thermostat_c: float) -> dict[str, float]:
    """Fan-on of the two schools with a cooler thermostat [°C].

    ``just above opening`` is the middle of +3 to +6 °C; ``stock minus the drop`` keeps the distance that the
    maker chose.
    """
    return {
        "just above opening": thermostat_c + 4.5,
        "stock minus the drop": stock_on_c - (stock_thermostat_c - thermostat_c),
    }

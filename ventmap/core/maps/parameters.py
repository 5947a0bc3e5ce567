"""What is set in a map, in the order people work: each with its reason, and what happens if it is wrong."""

from __future__ import annotations

from dataclasses import dataclass

from ..basics import Call, Evidence, HouseRules, Verdict
from ..forms import Calibration
from ..fuel import PETROL, Fuel
from .checks_of_limits import fan_defaults
from .job_of_map import MapJob


@dataclass(frozen=True)
class Parameter:
    """A figure or an option that is set: `names` are the scalars or options it stands under."""

    key: str
    title: str
    names: tuple[str, ...]
    reason: str
    wrong: str


#: In the order in which people work.
PARAMETERS: tuple[Parameter, ...] = (
    Parameter(
        "injectors",
        "Injectors",
        ("injector_flow", "injector_rated_kpa", "fuel_pressure_kpa"),
        "Every gram of fuel is reckoned from flow and pressure.",
        "The same fuel error everywhere; trims hide it until load.",
    ),
    Parameter(
        "fuel",
        "Fuel",
        ("fuel_density", "stoichiometric"),
        "The blend that is in the tank asks for its own mass of fuel.",
        "A wrong ratio looks like a wrong injector.",
    ),
    Parameter(
        "load",
        "Load sensing",
        ("load_sensing",),
        "Pressure with filling works without an airflow meter and with boost; airflow is closest to stock.",
        "Airflow beyond the meter's range reads flat: lean where it matters.",
    ),
    Parameter(
        "tyre",
        "Tyres",
        ("tyre_mm",),
        "Speed, gear display and limiter are reckoned from the rolling diameter.",
        "The dial lies, and so does the limiter.",
    ),
    Parameter(
        "speed_limit",
        "Speed limit",
        ("speed_limit",),
        "Never above the lowest rating of the tyres that are on.",
        "A tyre beyond its rating bursts.",
    ),
    Parameter(
        "rev_limit",
        "Rev limit",
        ("rev_limit",),
        "Within what the valve train follows.",
        "Valves that float meet pistons.",
    ),
    Parameter(
        "fan",
        "Fan",
        ("fan_on", "fan_off"),
        "Above the thermostat's opening, or it never rests; below stock, or it was for nothing.",
        "A fan that never rests wears out; one that comes late boils.",
    ),
    Parameter(
        "idle",
        "Idle",
        ("idle_target", "idle"),
        "As stock, unless cams or a light flywheel ask for more.",
        "Too low it stalls when the fan comes on; too high it pulls at every light.",
    ),
    Parameter(
        "overrun",
        "Overrun",
        ("overrun_on_rpm", "overrun_off_rpm"),
        "Fuel is cut on a closed throttle above a speed, and comes back well above idle.",
        "Back too late: it dies when the throttle closes.",
    ),
    Parameter(
        "start",
        "After start",
        ("after_start_s",),
        "More fuel dies away while the walls warm.",
        "Too short and it stalls in its first minute.",
    ),
    Parameter(
        "pedal",
        "Pedal response",
        ("pedal_response", "pedal"),
        "It changes how much throttle a pedal asks for. It adds no power.",
        "Too quick, and it jerks in town.",
    ),
    Parameter(
        "cylinders",
        "Cylinder deactivation",
        ("cylinder_deactivation",),
        "Off where exhaust noise or a cam does not go with it.",
        "Left on with other cams it stumbles on the change.",
    ),
    Parameter(
        "stop_start",
        "Stop-start",
        ("stop_start",),
        "Off at key on where it tows, or where its battery is weak.",
        "Each stop drains a weak battery further.",
    ),
    Parameter(
        "warm_up",
        "Warm-up delay",
        ("warm_up_s",),
        "Added torque waits for warm oil.",
        "Boost on cold oil wears the turbo.",
    ),
    Parameter(
        "level",
        "Level",
        ("level",),
        "The lowest first; the next only after a log that is go.",
        "A level above the tank's octane knocks.",
    ),
    Parameter(
        "preset",
        "Preset",
        ("preset",),
        "Even first: trims then show whether the curve is right.",
        "A saving preset on a weak pump runs lean under load.",
    ),
)


@dataclass(frozen=True)
class Advice:
    """A figure that is offered: for which name, its value, and why; `school` where practitioners differ."""

    name: str
    value: float
    reason: str
    school: str = ""


#: Nothing to a boat or a sled.
_ON_TYRES = ("tyre", "speed_limit")


def parameters_of(calibration: Calibration, job: MapJob) -> list[Parameter]:
    """Those that this map has, and that mean something on this kind of vehicle."""
    have = {*calibration.kind.scalars, *(str(row["key"]) for row in calibration.lists.get("options", ()))}
    return [
        one
        for one in PARAMETERS
        if any(name in have for name in one.names) and (job.on_tyres or one.key not in _ON_TYRES)
    ]


def advice(
    calibration: Calibration,
    job: MapJob,
    rules: HouseRules,
    fuel: Fuel,
    *,
    tyre_mm: float | None = None,
    stock_thermostat_c: float | None = None,
) -> list[Advice]:
    """Figures that are known for this job, each with its reason; only for names that this map has."""
    now = _values(calibration)
    found: list[Advice] = []
    if job.petrol:
        found += [
            Advice("fuel_density", round(fuel.density, 4), "of the blend that is in the tank"),
            Advice("stoichiometric", round(fuel.stoichiometric, 3), "of the blend that is in the tank"),
        ]
    if job.rev_limit is not None and now.get("rev_limit", 0.0) > job.rev_limit:
        found.append(Advice("rev_limit", job.rev_limit, "the maker's limit: no more than this"))
    if job.on_tyres and job.tyre_kmh is not None and now.get("speed_limit", 0.0) > job.tyre_kmh:
        found.append(Advice("speed_limit", job.tyre_kmh, "the lowest rating of the tyres that are on"))
    if job.on_tyres and tyre_mm is not None:
        found.append(Advice("tyre_mm", round(tyre_mm, 1), "the tyres that are on"))
    found += _fan(job, rules, stock_thermostat_c)
    school = rules.school("map.load_school")
    found.append(
        Advice("load_sensing", 0.0 if school == "manifold pressure" else 1.0, f"house rule: {school}", school)
    )
    names = {*calibration.kind.scalars, *(str(row["key"]) for row in calibration.lists.get("options", ()))}
    return [one for one in found if one.name in names]


def _values(calibration: Calibration) -> dict[str, float]:
    """What is set now, by name."""
    options = {str(row["key"]): float(row["wanted"]) for row in calibration.lists.get("options", ())}
    return {**options, **calibration.scalars}


def _fan(job: MapJob, rules: HouseRules, stock_thermostat_c: float | None) -> list[Advice]:
    if job.thermostat_c is None:
        return []
    chosen = rules.school("map.fan_school")
    if job.stock_fan_c is not None and stock_thermostat_c is not None:
        schools = fan_defaults(job.thermostat_c, job.stock_fan_c, stock_thermostat_c)
    else:
        schools = {"just above opening": job.thermostat_c + 4.5}
    ordered = sorted(schools, key=lambda school: school != chosen)
    found = [
        Advice("fan_on", schools[school], f"{school}{', house rule' if school == chosen else ''}", school)
        for school in ordered
    ]
    return [*found, Advice("fan_off", found[0].value - 5.0, "5 °C below on, so that it does not chatter")]


#: Richest mixture that a meter must read through at full load, spark ignition.
FULL_LOAD_LAMBDA = 0.88


def airflow_call(power_kw: float, fuel: Fuel, meter_g_s: float, bsfc: float) -> Call:
    """Whether an airflow meter that is kept reads far enough for the goal.

    Parameters
    ----------
    power_kw : float
        The goal, at the crank.
    meter_g_s : float
        Where the meter reads flat [g/s].
    bsfc : float
        Consumption of this kind of engine, planned on petrol [g/kWh].
    """
    mass = bsfc * PETROL.stoichiometric / fuel.stoichiometric
    needs = power_kw * mass / 3600.0 * FULL_LOAD_LAMBDA * fuel.stoichiometric
    share = needs / meter_g_s
    verdict = Verdict.stop if share >= 1.0 else Verdict.hold if share >= 0.9 else Verdict.go
    return Call(
        "map.airflow",
        verdict=verdict,
        because=(Evidence("air that the goal asks for", round(needs, 1), meter_g_s, unit="g/s"),),
        do_next="The meter reads far enough."
        if verdict is Verdict.go
        else "Sense load by manifold pressure, or fit a meter with a longer range: beyond it air reads flat,"
        " and the engine runs lean.",
        source="Air = fuel by consumption × mixture × ratio",
        title="Airflow meter and goal",
    )

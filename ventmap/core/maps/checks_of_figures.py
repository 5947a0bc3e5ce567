"""Figures of a full map against the records they stand for: the set that is on, the engine, the tank, the
shelf map.

Each is held again whenever the map or the record changes. Where a log has moved a figure the difference is
what was measured: it is told, and looked at, but it is no typing error.
"""

from __future__ import annotations

import numpy as np

from ..basics import Call, Evidence, HouseRules, Verdict, grade_above, under_load
from ..forms import MIXTURE, Calibration, place
from ..fuel import as_petrol, blend, dead_time_of, flow_at_pressure
from .job_of_map import MapJob
from .own_tables import by_pressure, called, holding

SOURCE = "A figure in a map is held against the record it stands for"
#: So many times the stop a log may move a figure over its rounds before its sheet is to be looked at again.
MEASURED = 2.0
#: Batteries at which an engine runs [V]: dead times are compared there.
VOLTS = np.array([10.0, 11.0, 12.0, 13.0, 14.0, 15.0])


def figure_calls(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    """Every figure of a full map, or of another program, that this job has a record for."""
    if calibration.form not in ("full", "borrowed"):
        return []
    # Before they are set they are another engine's: a step asks for them.
    injectors = (_flow, _across, _dead_time) if job.figures_set else ()
    return [
        *(call for check in injectors for call in check(calibration, job, rules)),
        *_engine(calibration, job),
        *_ratio(calibration, job, rules),
        *_filling(calibration, job, rules),
        *(
            call
            for name in holding(calibration, "lambda_target", MIXTURE)
            for call in _load_target(calibration, job, rules, name)
        ),
        *_overall_trim(calibration, job),
    ]


def _judged(
    rule: str, off: float, hold: float, stop: float, measured: bool, because: tuple[Evidence, ...], say: str
) -> Call:
    """A figure that is off by so much. Where a log has moved it, only what no log moves in its rounds
    holds.
    """
    verdict = grade_above(off, hold, stop)
    if measured:
        verdict = Verdict.hold if off >= MEASURED * stop else Verdict.go
    titles = {
        "map.flow": "Injector flow and its sheet",
        "map.across": "Pressure across the injectors",
        "map.dead_time_sheet": "Dead time and its sheet",
        "map.ratio": "Air to fuel and the tank",
    }
    return Call(
        rule,
        verdict=verdict,
        because=because,
        do_next=say
        if verdict is not Verdict.go
        else "A log moved it from what the record says."
        if measured and off >= hold
        else "It is what the record says.",
        source=SOURCE,
        title=titles[rule],
    )


def _measured(calibration: Calibration) -> bool:
    """Whether a log has had its say: figures may lie where it put them."""
    return calibration.lineage.round > 0


def _flow(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    """Flow and its pressure against the set that is on, both brought to one pressure."""
    known = _flow_wanted(calibration, job)
    if known is None:
        return []
    flow, wanted, at = known
    off = 100.0 * abs(flow / wanted - 1.0)
    return [
        _judged(
            "map.flow",
            off,
            rules["map.flow_hold"],
            rules["map.flow_stop"],
            _measured(calibration),
            (
                Evidence(f"flow, at {at:g} kPa", round(flow, 1), round(wanted, 1), "cm³/min"),
                Evidence("off", round(off, 1), rules["map.flow_hold"], "%"),
            ),
            f"{round(wanted, 1):g} cm³/min at {at:g} kPa by the sheet of the set that is on: set it,"
            " or look at sheet, unit and pressure.",
        )
    ]


def _flow_wanted(calibration: Calibration, job: MapJob) -> tuple[float, float, float] | None:
    """Flow in the map, flow by the sheet of the set that is on [cm³/min], and the pressure of both [kPa].

    A program of another hand that does not say at which pressure means the one that lies across.
    """
    sheet, scalars = job.injector, calibration.scalars
    at = scalars.get("injector_rated_kpa") or scalars.get("fuel_pressure_kpa") or job.across_kpa
    if sheet is None or "injector_flow" not in scalars or at is None:
        return None
    own = as_petrol(sheet.flow, sheet.test_fluid) if job.petrol else sheet.flow
    return scalars["injector_flow"], flow_at_pressure(own, sheet.rated_kpa, at), at


def _overall_trim(calibration: Calibration, job: MapJob) -> list[Call]:
    """A trim over everything keeps an engine alive until it is warm; what stays hides a wrong figure."""
    trim = calibration.scalars.get("overall_trim")
    if trim is None:
        return []
    known = _flow_wanted(calibration, job)
    # A set that flows less than the map believes asks for just as much trim.
    asked = round(100.0 * (known[0] / known[1] - 1.0), 1) if known is not None else None
    hides = asked is not None and abs(asked) >= 1.0 and trim * asked > 0
    because = [Evidence("overall trim", round(trim, 1), 0, unit="%")]
    if asked is not None:
        because.append(Evidence("trim that the flow in the map would ask for", asked, unit="%"))
    return [
        Call(
            "map.overall_trim",
            verdict=Verdict.go if trim == 0 else Verdict.hold,
            because=tuple(because),
            do_next="None is left in."
            if trim == 0
            else "It makes up for a flow that is not the sheet's: put the flow right, then take the trim off."
            if hides
            else "Find what it hides by a warm log (flow, dead time, pressure), then take it off.",
            source="A trim over everything is never the answer for good",
            title="Overall trim",
        )
    ]


def _across(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    kpa = calibration.scalars.get("fuel_pressure_kpa")
    if job.across_kpa is None or kpa is None:
        return []
    # Flow goes with the root of pressure: half the error counts.
    off = 100.0 * abs((kpa / job.across_kpa) ** 0.5 - 1.0)
    return [
        _judged(
            "map.across",
            off,
            rules["map.flow_hold"],
            rules["map.flow_stop"],
            _measured(calibration),
            (
                Evidence("across the injectors, in the map", round(kpa, 1), round(job.across_kpa, 1), "kPa"),
                Evidence("flow it makes wrong", round(off, 1), rules["map.flow_hold"], "%"),
            ),
            f"This vehicle's regulator holds {job.across_kpa:g} kPa: set it, or put its record right.",
        )
    ]


def _dead_time(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    sheet = dead_time_of(job.injector) if job.injector is not None else None
    kpa = calibration.scalars.get("fuel_pressure_kpa", job.across_kpa)
    if sheet is None or kpa is None or "dead_time" not in calibration.tables:
        return []
    apart = np.array([calibration.dead_time.at(v, kpa) - sheet.at(v, kpa) for v in VOLTS])
    row = int(np.argmax(np.abs(apart)))
    own = float(calibration.dead_time.at(VOLTS[row], kpa))
    return [
        _judged(
            "map.dead_time_sheet",
            float(np.abs(apart[row])),
            rules["map.dead_hold"],
            rules["map.dead_stop"],
            _measured(calibration),
            (
                Evidence(f"dead time at {VOLTS[row]:g} V", round(own, 3), round(own - apart[row], 3), "ms"),
                Evidence("off", round(float(abs(apart[row])), 3), rules["map.dead_hold"], "ms"),
            ),
            f"Take the sheet's column for {kpa:g} kPa, of this very set.",
        )
    ]


def _engine(calibration: Calibration, job: MapJob) -> list[Call]:
    """Displacement and cylinders are what they are."""
    wrong, because = [], []
    for name, label, own, unit in (
        ("displacement_cc", "displacement", job.displacement_cc, "cm³"),
        ("cylinders", "cylinders", job.cylinders, ""),
    ):
        if own is None or name not in calibration.scalars:
            continue
        told = calibration.scalars[name]
        because.append(Evidence(f"{label}, in the map", round(told, 1), own, unit))
        # A maker's figure is rounded to a cubic centimetre; a thousandth is that.
        if abs(told - own) > 0.001 * own:
            wrong.append(label)
    if not because:
        return []
    return [
        Call(
            "map.engine",
            verdict=Verdict.stop if wrong else Verdict.go,
            because=tuple(because),
            do_next=f"Set {' and '.join(wrong)} to the engine's own: every gram of fuel goes by it."
            if wrong
            else "It is this engine.",
            source=SOURCE,
            title="Engine in the map",
        )
    ]


def _ratio(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    if not job.petrol or "stoichiometric" not in calibration.scalars:
        return []
    told, tank = calibration.scalars["stoichiometric"], blend(job.ethanol).stoichiometric
    off = 100.0 * abs(told / tank - 1.0)
    return [
        _judged(
            "map.ratio",
            off,
            rules["map.ratio_hold"],
            rules["map.ratio_stop"],
            False,
            (
                Evidence("air to fuel ratio, in the map", round(told, 2), round(tank, 2)),
                Evidence("off", round(off, 1), rules["map.ratio_hold"], "%"),
            ),
            f"Set {round(tank, 2):g}: that is what is in the tank.",
        )
    ]


def _filling(calibration: Calibration, job: MapJob, rules: HouseRules) -> list[Call]:
    """A filling table that was moved as a whole without a log."""
    shelf = job.shelf.tables.get("ve") if job.shelf else None
    table = calibration.tables.get("ve")
    if shelf is None or table is None or _measured(calibration) or shelf.values.shape != table.values.shape:
        return []
    if calibration.form != "full":
        return []  # which round a table of another program is in nobody counts: a log may have moved it
    moved = 100.0 * (float(np.median(table.values / shelf.values)) - 1.0)
    limit = rules["map.filling_moved"]
    good = abs(moved) <= limit
    return [
        Call(
            "map.filling",
            verdict=Verdict.go if good else Verdict.hold,
            because=(Evidence("filling as a whole, against the shelf map", round(moved, 1), limit, "%"),),
            do_next="Within what another exhaust or filter does."
            if good
            else "Move it by a log, not by hand: as a whole it hides another wrong figure.",
            source=SOURCE,
            title="Filling as a whole",
        )
    ]


def _load_target(calibration: Calibration, job: MapJob, rules: HouseRules, name: str) -> list[Call]:
    """Under load nothing that burns petrol is meant to be leaner than stoichiometric; boost has its own
    limit.
    """
    table = calibration.tables[name]
    if not job.petrol or not by_pressure(calibration, name):
        return []
    rows = under_load(table.y, job.barometer_kpa)
    if not rows.any():
        return []
    inside = np.where(rows[:, None], table.values, -np.inf)
    row, column = np.unravel_index(int(np.argmax(inside)), inside.shape)
    leanest, hold, stop = float(inside.max()), rules["map.load_mixture"], rules["map.load_mixture_stop"]
    graded = grade_above(round(leanest, 4), hold, stop)
    # Stoichiometric itself is meant at light load, and is no fault.
    verdict = Verdict.go if leanest <= hold + 1e-6 else graded
    here = place(calibration, name, table, int(row), int(column))
    return [
        Call(
            "map.mixture_load",
            verdict=verdict,
            because=(Evidence(f"leanest target under load, at {here}", round(leanest, 3), hold, "lambda"),),
            do_next="Rich enough for load." if verdict is Verdict.go else f"Enrich it at {here}.",
            source="What pulls a load is never meant lean",
            title=f"Mixture target under load{called(calibration, name)}",
        )
    ]

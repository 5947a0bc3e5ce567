"""A drum's own table of a run, as CSV, for shops whose drum is not at the link."""

from __future__ import annotations

import csv
import io
import re

import numpy as np

from ..basics import NM_RPM_PER_KW, BadInput, VentMapError, parse
from .reduction import PowerCurve

#: Where a drum measures; the first two are measurements.
MEASURED = ("wheels", "hubs", "engine")
OFF_THE_ENGINE = MEASURED[:2]
#: Rows of a run: two minutes at 500 in a second.
MOST_LINES = 60_000


def read_curve(text: str, step_rpm: float = 50.0, measured: str = "") -> PowerCurve:
    """Read engine speed and wheel power (or torque) of one run.

    Comma, semicolon or tab; decimal comma with the latter two; a header row names ``rpm`` and a power (kW,
    hp, PS) or torque
    (N·m, lb·ft) column with its unit. Shape of the result: a grid of `step_rpm` over the measured speeds.
    `measured` is one of `MEASURED`, for a file that does not say itself where its figures are measured.

    Raises
    ------
    BadInput
        Naming what is missing.
    """
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip()]
    if len(lines) < 9:
        raise BadInput("A run needs a header and at least 8 rows of engine speed and power.", "file")
    comma = max(";\t,", key=lines[0].count)
    if len(lines) > MOST_LINES:
        raise BadInput(f"A run has {MOST_LINES} rows at most: export one run alone.", "file")
    try:
        head, *rows = list(csv.reader(io.StringIO("\n".join(lines), newline=""), delimiter=comma))
    except csv.Error as error:
        raise BadInput(f"The file cannot be read as CSV: {error}.", "file") from error
    names = [name.strip().lower() for name in head]
    speed = next(
        (i for i, name in enumerate(names) if "rpm" in name or "engine speed" in name or "1/min" in name),
        None,
    )
    power, unit = _column(head, r"kW|PS|hp")
    torque, torque_unit = _column(head, r"N·?m|lb[·-]?ft")
    for place in (power, torque):
        # With torque from a named wheel column power at the engine is not needed.
        if place is not None and AT_ENGINE.search(names[place]) and (place == power or power is None):
            raise BadInput(
                f"“{head[place].strip()}” is at the engine: the drum's own guess of its loss is in it. Export"
                " what was measured at the wheels or the hubs.",
                "file",
            )
    used = power if power is not None else torque
    # Beside a column at the engine the other one is the drum's own.
    beside = any(AT_ENGINE.search(name) for place, name in enumerate(names) if place != used)
    said = used is not None and (bool(AT_WHEEL.search(names[used])) or beside)
    if used is not None and not said and measured not in OFF_THE_ENGINE:
        raise BadInput(
            "The file does not say where its power is measured: say wheels or hubs. What is reckoned up to"
            " the engine is no measurement; export the other."
            if measured != "engine"
            else "Figures at the engine hold the drum's own guess of its loss: export wheels or hubs.",
            "measured",
        )
    if speed is None or (power is None and torque is None):
        raise BadInput(
            "The header must name rpm and power in kW, hp or PS (or torque in N·m or lb·ft).", "file"
        )
    points = []
    for number, row in enumerate(rows, 2):
        try:
            rpm = parse(row[speed], "engine_speed")
            value = (
                parse(row[power], "power", unit)
                if power is not None
                else parse(row[torque or 0], "torque", torque_unit) * rpm / NM_RPM_PER_KW
            )
        except (VentMapError, IndexError) as error:
            raise BadInput(f"Line {number} is not two figures: {comma.join(row)[:60]}", "file") from error
        points.append((rpm, value))
    rpm, kw = np.array(sorted(points)).T
    if rpm[-1] - rpm[0] < 1000 or rpm[0] <= 0:
        raise BadInput(f"The run spans {rpm[0]:.0f}–{rpm[-1]:.0f} rpm: at least 1000 rpm are needed.", "file")
    grid = np.arange(np.ceil(rpm[0] / step_rpm) * step_rpm, rpm[-1] + 1e-6, step_rpm)
    on_grid = np.interp(grid, rpm, kw)
    return PowerCurve(grid, on_grid, on_grid * NM_RPM_PER_KW / grid)


#: Words of a figure that was reckoned up to the crank, in the languages of drums.
AT_ENGINE = re.compile(r"(?i)\b(engine|crank(shaft)?|flywheel|motor(leistung|moment)?|moteur|at ?crank)\b")
AT_WHEEL = re.compile(r"(?i)\b(wheels?|hubs?|rad(leistung)?|rads?|roues?|ruedas?|drum)\b")


def _column(head: list[str], units: str) -> tuple[int | None, str]:
    """The first column whose name carries one of the units; one at the wheels before any other, one at the
    engine last."""
    order = sorted(
        range(len(head)), key=lambda i: (not AT_WHEEL.search(head[i]), bool(AT_ENGINE.search(head[i])), i)
    )
    for place, name in ((i, head[i]) for i in order):
        found = re.search(rf"(?:^|[\s(\[_,])({units})(?:$|[\s)\],])", name, re.IGNORECASE)
        if found:
            text = found[1].lower()
            return place, {"kw": "kW", "ps": "PS", "hp": "hp"}.get(
                text, "N·m" if text.startswith("n") else "lb·ft"
            )
    return None, ""

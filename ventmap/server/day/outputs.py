"""Output tests of the day: each driven over the link, and answered by what is heard at the vehicle."""

from __future__ import annotations

from typing import Any

from ventmap.core.runsheet import OutputsAsked

from ..jobs import grids
from ..jobs.assemble import run_sheet
from ..maps import trying
from .desk import Desk


def try_each(desk: Desk) -> None:
    """Every interlock confirmed, then each output driven and answered."""
    step = next((one for one in run_sheet(desk.job).steps if one.key == trying.OUTPUTS), None)
    if step is None or not isinstance(step.about, OutputsAsked):
        return
    grid: dict[str, Any] = {"data": {}, "revision": 0}
    for output in step.about.outputs:
        ready = {"rows": [], **grid["data"], "interlocks": list(output.interlocks)}
        grids.enter_grid(desk.job, step.key, ready, grid["revision"], desk.by)
        desk.clock.forward(20)
        tried = trying.try_output(desk.job, output.key, desk.by)
        wanted = output.label if output.kind != "brake" else "pressed reads on, let go off"
        seen = "works" if wanted in tried["seen"] and "goes on" not in tried["seen"] else "nothing"
        rows = [
            row | {"seen": seen} if row["key"] == output.key else row for row in tried["grid"]["data"]["rows"]
        ]
        data = {**tried["grid"]["data"], "rows": rows}
        grid = grids.enter_grid(desk.job, step.key, data, tried["grid"]["revision"], desk.by)
    assert grid["verdict"] == "go", grid["calls"]

"""Beside a capture: what sounds, and what was driven. Neither holds a sample up nor asks the database."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ventmap.core.corrections import CorrectionRules, cells_so_far
from ventmap.core.findings import Alarm, Limit, ReviewContext, alarms, cannot_hear
from ventmap.core.forms import Calibration
from ventmap.core.vehicle import Gearing
from ventmap.link.logger import to_log

from ..schemas import evidence_out
from .capture import Capture, Row
from .next_drives import driven_so_far

log = logging.getLogger(__name__)
#: So often it is listened while somebody watches, and what was driven is ticked off [s].
LISTENS_S, LOOKED_AGAIN_S = 0.5, 1.0
#: So often on the vehicle's own clock while nobody watches [s].
UNWATCHED_S = 1.0
#: So often the cells of the map are looked at [s].
FILLED_AGAIN_S = 1.5


class Ear:
    """What one drive is listened for: the rules of the review, and limits of whoever drives."""

    def __init__(self, context: ReviewContext, limits: tuple[Limit, ...], lift: bool) -> None:
        self.context, self.limits, self.lift = context, limits, lift

    def listen(self, found: Capture) -> None:
        """Say what sounds now; a stop takes the foot off where that was asked for, and stays told."""
        rows = list(found.recent)
        if len(rows) < 2:
            return
        so_far = to_log(rows, "so far")
        now = alarms(so_far, self.context, self.limits)
        found.sounding = bool(now)
        if now:
            found.keep_what_sounds()
        if found.watched:
            found.unheard = list(cannot_hear(so_far, self.context))
        found.alarms = [_alarm_out(one) for one in now]
        grave = next((one for one in now if one.lifts), None)
        if grave is not None and not found.lifted:
            found.lifted, found.lifted_by = grave.told, grave.channels[0] if grave.channels else ""
            found.marks.append({"at_s": round(rows[-1][0], 2), "word": found.lifted})
            if self.lift:
                found.off.set()


def _alarm_out(one: Alarm) -> dict[str, Any]:
    return {
        "kind": one.kind,
        "verdict": one.verdict.value,
        "title": one.title,
        "because": evidence_out(one.because[:2]),
        "channels": list(one.channels),
        "at_s": round(one.at_s, 1),
        "do": one.do,
    }


@dataclass(frozen=True)
class Filled:
    """The table that a drive fills, as it is in the map now."""

    calibration: Calibration
    name: str
    title: str
    rules: CorrectionRules

    def look(self, found: Capture) -> None:
        """Say how far its cells are, and whether there is enough of what is driven now."""
        told = cells_so_far(to_log(found.rows[:], "so far"), self.calibration, self.name, self.rules)
        if told is None:
            return
        table, kind = self.calibration.tables[self.name], self.calibration.table_kind(self.name)
        found.cells = {
            "title": self.title,
            "x": table.x.round(3).tolist(),
            "y": table.y.round(3).tolist(),
            "y_unit": kind.rows.unit if kind and kind.rows else "",
            "ticks": told.ticks.tolist(),
            "enough": told.enough.tolist(),
            "at": list(told.at) if told.at is not None else None,
            "enough_here": told.enough_here,
        }


def beside(found: Capture, ear: Ear, vehicle: str, gearing: Gearing | None, filled: Filled | None) -> None:
    """Start what runs beside a capture."""

    def tick_off() -> None:
        found.drives = driven_so_far(found.rows[:], ear.context, vehicle, gearing)

    if found.watched:
        _again(found, LISTENS_S, lambda: _heard(ear, found), "what sounds is not told")
    _again(found, LOOKED_AGAIN_S, tick_off, "what was driven is not ticked off")
    if found.watched and filled is not None:
        _again(found, FILLED_AGAIN_S, lambda: filled.look(found), "cells are not filled as they are driven")


def _heard(ear: Ear, found: Capture) -> None:
    """Listen; a fault of it ends no capture, and that nobody listens is said."""
    try:
        ear.listen(found)
    except Exception:
        log.warning("what sounds is not told", exc_info=True)
        found.deaf = True


def _again(found: Capture, every_s: float, do: Callable[[], None], amiss: str) -> None:
    def run() -> None:
        while found.state == "running" and not found.stopping.wait(every_s):
            try:
                do()
            except Exception:
                log.warning(amiss, exc_info=True)

    threading.Thread(target=run, daemon=True, name=f"beside-{found.job_id}").start()


def unwatched(found: Capture, ear: Ear) -> Callable[[Row], None]:
    """For the capture's own thread where nobody watches: after so much of the vehicle's time."""
    heard = [0.0]

    def row(one: Row) -> None:
        if one[0] - heard[0] < UNWATCHED_S:
            return
        heard[0] = one[0]
        _heard(ear, found)

    return row

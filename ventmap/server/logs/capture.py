"""One capture: what it has so far, and how it ends."""

from __future__ import annotations

import threading
from collections import deque
from dataclasses import dataclass, field
from typing import Any

from ventmap.core.basics import BadInput
from ventmap.core.findings import LOOKS_BACK_S
from ventmap.core.logs import OnPulls

Row = tuple[float, dict[str, float]]
#: Longest word at a mark, and most marks of one capture.
WORD, MOST_MARKS = 80, 200
#: What stands where nothing was kept from then on.
PAUSED = "paused"


@dataclass
class Capture:
    """One running capture.

    Parameters
    ----------
    length_s : float
        What the drive takes [s].
    ran : str
        What is on the vehicle beside its map, in words.
    on_pulls : OnPulls, optional
        Where only what is driven around full pedal is kept.
    """

    job_id: int
    watched: bool
    baseline: bool
    length_s: float
    ran: str = ""
    on_pulls: OnPulls | None = None
    #: What is kept of it, and what was read lately, kept or not.
    rows: list[Row] = field(default_factory=list)
    recent: deque[Row] = field(default_factory=deque)
    state: str = "running"
    sentence: str = ""
    log_id: int | None = None
    doing: str = ""
    drives: list[dict[str, Any]] = field(default_factory=list)
    alarms: list[dict[str, Any]] = field(default_factory=list)
    marks: list[dict[str, Any]] = field(default_factory=list)
    #: The table that it fills, cell by cell; empty where it fills none.
    cells: dict[str, Any] = field(default_factory=dict)
    #: The first stop that sounded; whether it took the foot off, `off` says.
    lifted: str = ""
    #: The channel that told it: its gauge stays framed.
    lifted_by: str = ""
    #: Nobody listens any more: silence tells nothing.
    deaf: bool = False
    paused: bool = False
    #: Something sounds: what is driven now is kept, paused or not.
    sounding: bool = False
    #: Kinds that nobody could hear now, each with why.
    unheard: list[str] = field(default_factory=list)
    #: What was on the vehicle when it began.
    was: dict[str, Any] = field(default_factory=dict)
    off: threading.Event = field(default_factory=threading.Event)
    stopping: threading.Event = field(default_factory=threading.Event)
    #: Kept after the fact, and not yet on the disk.
    _late: list[Row] = field(default_factory=list)
    _rows: threading.Lock = field(default_factory=threading.Lock)

    def take(self, row: Row) -> list[Row]:
        """One more row that was read; gives what is kept now and is not on the disk yet."""
        with self._rows:
            self.recent.append(row)
            while self.recent[0][0] < row[0] - LOOKS_BACK_S:
                self.recent.popleft()
            kept = [] if self.paused else self.on_pulls.keep(row) if self.on_pulls else [row]
            kept = [row] if self.sounding else kept
            last = self.rows[-1][0] if self.rows else float("-inf")
            self.rows += (new := [one for one in kept if one[0] > last])
            late, self._late = self._late, []
            return [*late, *new]

    def keep_what_sounds(self) -> None:
        """What led to an alarm is kept, whatever was paused or waited for: no fault is left out of a log."""
        with self._rows:
            first = self.recent[0][0] if self.recent else 0.0
            have = {at for at, _ in self.rows if at >= first}
            missed = [row for row in self.recent if row[0] not in have]
            if missed:
                self.rows = sorted([*self.rows, *missed], key=lambda row: row[0])
                self._late += missed

    @property
    def at_s(self) -> float:
        return self.recent[-1][0] if self.recent else 0.0

    def mark(self, word: str) -> dict[str, Any]:
        """A word at this moment."""
        if self.state != "running":
            raise BadInput("No log is being captured: a mark needs one.", "capture")
        if len(self.marks) >= MOST_MARKS:
            raise BadInput(f"A log holds {MOST_MARKS} marks.", "word")
        made = {"at_s": round(self.at_s, 2), "word": word.strip()[:WORD] or f"mark {len(self.marks) + 1}"}
        self.marks.append(made)
        return made

    def pause(self, paused: bool) -> None:
        """Stop keeping rows, or go on; the log says where."""
        if self.state == "running" and paused != self.paused:
            self.paused = paused
            self.mark(PAUSED if paused else "goes on")

    def event(self) -> dict[str, Any]:
        """State, progress, and the newest value of every channel."""
        latest: dict[str, float] = {}
        for _, row in list(self.recent)[-4:]:
            latest |= row
        at, rows = self.at_s, len(self.rows)
        waits = self.on_pulls is not None and self.on_pulls.waits
        return {
            "state": self.state,
            "at_s": round(at, 2),
            "length_s": round(self.length_s, 1),
            "rows": rows,
            "doing": self.doing,
            "drives": self.drives,
            "alarms": self.alarms,
            "marks": self.marks,
            "cells": self.cells or None,
            "lifted": self.lifted,
            "lifted_by": self.lifted_by,
            "off": self.off.is_set(),
            "deaf": self.deaf,
            "unheard": self.unheard,
            "paused": self.paused,
            "waits": waits,
            "rate_hz": round(len(self.recent) / max(at - self.recent[0][0], 1.0), 1) if at > 1 else 0.0,
            "values": {k: round(v, 3) for k, v in latest.items()},
            "sentence": self.sentence,
            "log_id": self.log_id,
        }

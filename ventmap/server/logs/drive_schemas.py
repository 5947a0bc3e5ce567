"""What is still to be driven, as the screens show it."""

from __future__ import annotations

from datetime import datetime

from ninja import Schema


class DriveOut(Schema):
    """One thing to drive, and how much of it there is."""

    key: str
    do: str
    where: str
    why: str
    have: float
    want: float
    unit: str
    enough: bool


class LogAlsoOut(Schema):
    label: str
    waits: list[str]


class SweepOut(Schema):
    do: str
    where: str


class TrendFigureOut(Schema):
    key: str
    label: str
    unit: str


class TrendLogOut(Schema):
    """One log of the vehicle, the oldest first; a figure that it does not hold is left out."""

    log_id: int
    job: str
    log: str
    at: datetime
    state: str
    figures: dict[str, float]


class TrendOut(Schema):
    vehicle: str
    """By what the jobs are known to be of one vehicle."""
    figures: list[TrendFigureOut]
    logs: list[TrendLogOut]


class NextDriveOut(Schema):
    """What this log lacks, said to the driver."""

    stopped: str
    """Why nothing is to be driven now; empty where nothing stands in the way."""
    caution: str
    drives: list[DriveOut]
    channels: list[LogAlsoOut]
    table: str
    """Title of the table that the sweeps fill; empty where there is none."""
    sweeps: list[SweepOut]

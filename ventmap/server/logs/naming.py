"""What people say of a log's columns: read again by it, and remembered for the next log of that source."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction

from ventmap.core.basics import BadInput, LogSource, read_record
from ventmap.core.findings import ReviewContext, said_scales
from ventmap.core.logs import CHANNELS, UNITS_BY_QUANTITY

from ..jobs import ledger
from ..jobs.acting import changing
from ..jobs.models import Job
from ..shelf.models import ShelfItem
from ..shelf.services import put, record_of
from ..shop.access import LEAD, full_name, role
from . import store
from .models import LogFile
from .reading import Naming
from .reviews import context_of


def known_sources() -> dict[str, LogSource]:
    """The sources on the shelf, by key."""
    return {item.key: record_of(item, LogSource) for item in ShelfItem.objects.filter(kind="source")}


def context_for(row_told: dict[str, Any], context: ReviewContext) -> ReviewContext:
    """What a person said that no log says: of a look, which has no job that would know."""
    said = {
        key: row_told[key] for key in ("induction", "stroke", "altitude_m", "ethanol") if row_told.get(key)
    }
    if row_told.get("diesel"):
        said["injection"] = "diesel"
    return replace(context, **said)


def say(
    row: LogFile,
    said: dict[str, Any],
    source: dict[str, Any],
    remember: str,
    by: User,
    tell: Callable[[str], None] = lambda phase: None,
    stopped: Callable[[], bool] = lambda: False,
    judge: Callable[[Job, LogFile, User], None] = lambda job, row, by: None,
) -> LogFile:
    """Read a log again, by what was said of it; with a job it is judged again.

    Parameters
    ----------
    said : dict
        What no log says: induction, stroke, altitude, ethanol, diesel.
    source : dict
        Columns and the scale of AFR, as `LogSource` has them.
    remember : str
        Name under which the source is kept on the shelf; empty where it is not.

    Raises
    ------
    BadInput, LogError
        Naming what is wrong; the log then stays as it was.
    """
    if row.source == "captured":
        raise BadInput("This log was captured here: its channels are what was asked.", "log")
    headings = sorted(read["column"] for read in row.reads) + ([row.clock] if row.clock else [])
    told = read_record(LogSource, {**source, "headings": headings}, "source")
    if role(by) == LEAD and said_scales(told):
        told = told.model_copy(update={"scales_by": full_name(by)})
    context = context_of(row.job, stock=row.baseline) if row.job else context_for(said, context_of(None))
    naming = Naming(told, known_sources())
    fresh, columns = store.read_again(row, context, naming, tell, stopped)
    with changing(row.job) if row.job is not None else transaction.atomic():
        row.told = {**said, "source": told.model_dump(mode="json", exclude={"dbc"})}
        if remember.strip():
            row.known = _remember(told, remember.strip(), row.known)
        store.replace(row, fresh, columns)
        if row.job is not None:
            stage = "baseline" if row.baseline else "log"
            names = ", ".join(f"{hint.column} → {_label(hint.channel)}" for hint in told.columns)
            ledger.write(row.job, stage, "log", f"Columns said: {row.name}", by, names[:400])
            judge(row.job, row, by)
    return row


def _label(channel: str) -> str:
    return CHANNELS[channel].label if channel in CHANNELS else channel or "its own name"


def _remember(told: LogSource, name: str, known: str) -> str:
    """Keep a source on the shelf under its headings; what was said before is replaced."""
    same = next(
        (key for key, one in known_sources().items() if set(one.headings) == set(told.headings)), known
    )
    key = same or f"source-{ShelfItem.objects.filter(kind='source').count() + 1}"
    while not same and ShelfItem.objects.filter(kind="source", key=key).exists():
        key += "x"
    put({"kind": "source", "key": key, "name": name[:120], "body": told.model_dump(mode="json")})
    return key


def choices() -> list[dict[str, Any]]:
    """Channels that a column may be, with the units it may be in."""
    return [
        {
            "channel": name,
            "label": channel.label,
            "unit": channel.unit,
            "units": list(UNITS_BY_QUANTITY.get(channel.quantity, ())),
        }
        for name, channel in CHANNELS.items()
    ]

"""Logs as they are captured: what is asked of the vehicle, what sounds, marks, pauses, and how it ends."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator
from typing import Any

from django.http import HttpRequest, StreamingHttpResponse
from ninja import Field, Router, Schema

from ventmap.core.basics import BadInput
from ventmap.core.findings import DRIVE_CAUTION, FULL, LINKS, Limit, on_link, questions, unheard, wanted
from ventmap.core.logs import CHANNELS, ChannelWish, in_its_unit
from ventmap.link.logger import CHANNEL, plan_for

from ..jobs.rows import job_by
from ..schemas import CallOut, Done, EvidenceOut, call_out
from ..shop.access import person, worker
from ..shop.acts import asks, waits
from . import captures
from .capture import WORD
from .drive_schemas import DriveOut
from .reviews import context_of
from .schemas import MarkOut

router = Router(tags=["logs"])
#: Most limits of one's own on one drive, and most channels that are planned for at once.
MOST_LIMITS, MOST_CHANNELS = 12, 60
#: The link that a captured log goes over.
OURS = "here"


class LimitIO(Schema):
    """A limit of whoever drives: a figure in any unit of its channel."""

    channel: str = Field(max_length=40)
    above: bool = True
    text: str = Field(max_length=40)
    lifts: bool = False

    def read(self) -> Limit:
        """The limit in canonical units.

        Raises
        ------
        BadInput
            Naming the channel or the figure.
        """
        return Limit(self.channel, self.above, in_its_unit(self.channel, self.text), self.lifts)


class AlarmOut(Schema):
    """Something that sounds now."""

    kind: str
    verdict: str
    title: str
    because: list[EvidenceOut]
    channels: list[str]
    """Those that it is told by."""
    at_s: float
    do: str


class FillingOut(Schema):
    """The table that a drive fills: evidence of its cells so far, and the one that is driven now."""

    title: str
    x: list[float]
    y: list[float]
    y_unit: str
    ticks: list[list[int]]
    enough: list[list[bool]]
    at: list[int] | None
    enough_here: bool


class CaptureOut(Schema):
    state: str
    at_s: float
    length_s: float
    rows: int
    rate_hz: float
    doing: str
    drives: list[DriveOut]
    alarms: list[AlarmOut]
    marks: list[MarkOut]
    cells: FillingOut | None
    lifted: str
    """The first stop that sounded; empty where none did."""
    lifted_by: str
    """The channel that told it."""
    off: bool
    """Whether it took the foot off."""
    unheard: list[str]
    """Kinds of alarm that could not be heard just now, each with why."""
    deaf: bool
    """Nobody listens any more: silence tells nothing."""
    paused: bool
    waits: bool
    """Nothing is kept until somebody drives at full pedal."""
    values: dict[str, float]
    sentence: str
    log_id: int | None


class CaptureIn(Schema):
    watched: bool = True
    baseline: bool = False
    question: str = Field(FULL, max_length=20)
    channels: list[str] = Field(default_factory=list, max_length=MOST_CHANNELS)
    limits: list[LimitIO] = Field(default_factory=list, max_length=MOST_LIMITS)
    lift: bool = True
    on_pulls: bool = False


class MarkIn(Schema):
    word: str = Field("", max_length=WORD)


class PauseIn(Schema):
    paused: bool


class WantedOut(Schema):
    """A channel of a question: what waits for it, and how often the link gives it."""

    name: str
    label: str
    unit: str
    waits: list[str]
    there: bool
    hz: float | None
    wanted_hz: float


class ChoiceOut(Schema):
    key: str
    title: str


class LogPlanOut(Schema):
    """What to log for a question, said before anybody drives."""

    questions: list[ChoiceOut]
    links: list[ChoiceOut]
    question: str
    link: str
    channels: list[WantedOut]
    megabytes_per_minute: float
    calls: list[CallOut]
    unheard: list[str]
    """Kinds of alarm that these channels cannot sound for."""
    caution: str


@router.get("/jobs/{number}/log-plan", response=LogPlanOut)
def log_plan(
    request: HttpRequest,
    number: str,
    question: str = FULL,
    link: str = OURS,
    baseline: bool = False,
    only: str = "",
) -> Any:
    """Channels of a question in order of need, and what the link really gives of them; `only`: without those
    that somebody left out.
    """
    person(request)
    job = job_by(number)
    context = context_of(job, stock=baseline)
    there = captures.gives(job, baseline)
    shown = None if there is None else [CHANNEL.get(name, name) for name in there]
    found = wanted(question, context, shown)
    names = [one.name for one in found if one.there and (not only or one.name in only.split(","))]
    if not names:
        raise BadInput("Keep at least one channel.", "only")
    if there is not None and link == OURS:
        plan = plan_for(captures.as_asked(names, there))
    else:
        link = "can_batched" if link == OURS else link
        plan = on_link(names, link)
    rates = {CHANNEL.get(name, name): rate for name, rate in plan.hz.items()}
    return {
        "questions": [{"key": key, "title": title} for key, title in questions(context, shown).items()],
        "links": _links(there is not None),
        "question": question,
        "link": link,
        "channels": [
            {
                **vars(one),
                "unit": CHANNELS[one.name].unit,
                "hz": round(rates[one.name], 1) if one.name in rates else None,
                "wanted_hz": ChannelWish(one.name).wanted_hz,
            }
            for one in found
        ],
        "megabytes_per_minute": round(plan.bytes_per_minute / 1e6, 2),
        "calls": [call_out(call) for call in plan.calls],
        "unheard": list(unheard(names, context)),
        "caution": DRIVE_CAUTION,
    }


def _links(here: bool) -> list[dict[str, str]]:
    own = [{"key": OURS, "title": "from here"}] if here else []
    return own + [{"key": key, "title": link.title} for key, link in LINKS.items()]


@router.post("/jobs/{number}/captures", response=CaptureOut)
@waits("runs in the background")
def start_capture(request: HttpRequest, number: str, body: CaptureIn) -> Any:
    wish = captures.Wish(
        watched=body.watched,
        baseline=body.baseline,
        question=body.question,
        channels=tuple(body.channels),
        limits=tuple(one.read() for one in body.limits),
        lift=body.lift,
        on_pulls=body.on_pulls,
    )
    return captures.start(job_by(number), worker(request), wish).event()


@router.get("/jobs/{number}/captures/current", response=CaptureOut | None)
def current_capture(request: HttpRequest, number: str) -> Any:
    found = captures.running(job_by(number))
    return found.event() if found else None


@router.post("/jobs/{number}/captures/current/marks", response=MarkOut)
@asks
def mark_capture(request: HttpRequest, number: str, body: MarkIn) -> Any:
    """A word at this moment; it is kept with the log."""
    worker(request)
    return captures.mark(job_by(number), body.word)


@router.put("/jobs/{number}/captures/current", response=Done)
@asks
def pause_capture(request: HttpRequest, number: str, body: PauseIn) -> Any:
    """Stop keeping rows, or go on."""
    worker(request)
    captures.pause(job_by(number), body.paused)
    return {"sentence": ""}


@router.delete("/jobs/{number}/captures/current", response=Done)
@asks
def stop_capture(request: HttpRequest, number: str) -> Any:
    worker(request)
    captures.stop(job_by(number))
    return {"sentence": ""}


@router.get("/jobs/{number}/captures/current/events")
async def capture_events(request: HttpRequest, number: str) -> StreamingHttpResponse:
    """Live values and progress, as server-sent events, until the capture ends."""
    from asgiref.sync import sync_to_async

    job = await sync_to_async(job_by)(number)

    async def events() -> AsyncIterator[str]:
        while (found := captures.running(job)) is not None:
            yield f"data: {json.dumps(found.event())}\n\n"
            if found.state != "running":
                return
            await asyncio.sleep(0.25)

    return StreamingHttpResponse(events(), content_type="text/event-stream")

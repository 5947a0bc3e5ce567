"""The hand-over report: what was done, what it gained, how to go back; as data and as PDF."""

from __future__ import annotations

import io
from typing import Any, Literal

from django.conf import settings
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from django.template.loader import render_to_string
from ninja import Router, Schema

from ventmap.core.basics import Verdict

from ..dyno import judging as dyno
from ..jobs import ledger
from ..jobs.acting import changing
from ..jobs.models import Job
from ..jobs.rows import job_by
from ..jobs.schemas import Plate
from ..jobs.steps import finish
from ..jobs.under_way import ended, under_way
from ..schemas import CallOut
from ..shop.access import worker
from ..shop.acts import waits
from .record import report_data

router = Router(tags=["hand-over"])


class SettingOut(Schema):
    name: str
    old: str
    new: str
    why: str


class MapLine(Schema):
    version: str
    note: str
    crc32: str
    by: str
    at: str
    loaded: bool


class GainOut(Schema):
    claimed: bool
    mean_kw: float
    scatter_kw: float | None
    before_kw: float
    before_rpm: float
    after_kw: float
    after_rpm: float
    standard: str
    confidence: float
    crank: list[float]
    calls: list[CallOut]


class DoneOut(Schema):
    what: str
    result: str
    who: str
    at: str


class LineOut(Schema):
    figures: str
    at: str
    who: str
    title: str
    text: str
    verdict: Verdict | Literal[""]


class SignedOut(Schema):
    what: str
    name: str
    drawn: str
    at: str


class TunerLine(Schema):
    """A round with the remote tuner."""

    number: int
    at: str
    sent: str
    came: str


class ReportOut(Schema):
    house: str
    town: str
    made_at: str
    plate: Plate
    parts: list[str]
    settings: list[SettingOut]
    maps: list[MapLine]
    rounds: list[TunerLine]
    gain: GainOut | None
    no_gain: str
    inside: str
    work: list[DoneOut]
    calls: list[LineOut]
    not_done: list[str]
    set_aside: list[DoneOut]
    overruled: list[LineOut]
    feed: list[str]
    back: list[str]
    lights: list[str]
    recheck: list[str]
    law: list[str]
    statements: list[SignedOut]
    record: list[LineOut]


def figure(job: Job) -> str:
    """Before and after with the scatter band, as SVG."""
    import matplotlib

    matplotlib.use("svg")
    import matplotlib.pyplot as plt

    found = dyno.comparison_out(job)
    plt.rcParams["svg.fonttype"] = "none"
    canvas, (power, gain) = plt.subplots(
        2, 1, figsize=(7.0, 4.6), sharex=True, height_ratios=(3, 1.4), layout="constrained"
    )
    power.plot(found["rpm"], found["before_kw"], color="#44627A", linestyle="--", label="before, stock")
    power.plot(found["rpm"], found["after_kw"], color="#0B5E6B", linewidth=2, label="after")
    power.set_ylabel("power at the wheels, kW")
    power.legend(frameon=False, loc="lower right")
    low = [g - (s or 0.0) for g, s in zip(found["gain_kw"], found["limit_kw"], strict=True)]
    high = [g + (s or 0.0) for g, s in zip(found["gain_kw"], found["limit_kw"], strict=True)]
    gain.fill_between(found["rpm"], low, high, color="#0B5E6B", alpha=0.25, linewidth=0)
    gain.plot(found["rpm"], found["gain_kw"], color="#0B5E6B")
    gain.axhline(0, color="#1D2A2E", linewidth=0.8)
    gain.set_ylabel("gain, kW")
    gain.set_xlabel("engine speed, rpm")
    for axis in (power, gain):
        axis.grid(color="#D8D2C4", linewidth=0.6)
        axis.spines[["top", "right"]].set_visible(False)
    out = io.StringIO()
    canvas.savefig(out, format="svg")
    plt.close(canvas)
    text = out.getvalue()
    return text[text.index("<svg") :]


def pdf(job: Job) -> bytes:
    from weasyprint import HTML

    data = report_data(job)
    html = render_to_string("report.html", {"r": data, "figure": figure(job) if data["gain"] else ""})
    return HTML(string=html, url_fetcher=_fetch).write_pdf()  # type: ignore[no-any-return]


def _fetch(url: str, *args: object, **named: object) -> Any:
    """The report's own fonts, from the front end's packages; nothing else."""
    from weasyprint.urls import URLFetcherResponse

    fonts = settings.BASE / "web" / "node_modules" / "@fontsource"
    path = (fonts / url.removeprefix("font:")).resolve()
    if not url.startswith("font:") or not path.is_relative_to(fonts.resolve()):
        raise ValueError(f"the report fetches nothing from outside, not even {url}")
    return URLFetcherResponse(url, body=path.read_bytes(), headers={"Content-Type": "font/woff"})


def made(job: Job, by: User) -> None:
    if finish(job, "hand-over.report", by):
        ledger.write(job, "hand-over", "report", "Report printed", by)


@router.get("/jobs/{number}/report", response=ReportOut)
def report(request: HttpRequest, number: str) -> Any:
    return report_data(job_by(number))


@router.post("/jobs/{number}/report")
@waits("prints")
def report_pdf(request: HttpRequest, number: str) -> HttpResponse:
    """The report as PDF; printing it is a step of the job."""
    job, by = job_by(number), worker(request)
    with under_way(job, "report", "hand-over", by) as record:
        data = pdf(job)
        with changing(job):
            made(job, by)
            ended(record)
    response = HttpResponse(data, content_type="application/pdf")
    response["Content-Disposition"] = f'attachment; filename="job-{number}.pdf"'
    return response

"""The hand-over report: what was done, what it gained, how to go back; as data and as PDF."""

from __future__ import annotations

import io
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from django.template.loader import render_to_string
from django.utils import timezone
from ninja import Router, Schema

from ventmap.core.basics import Device, VentMapError
from ventmap.core.maps import SCALARS, diff
from ventmap.core.runsheet import law, way_back, what_to_feed

from ..dyno import judging as dyno
from ..jobs import ledger, views
from ..jobs.assemble import run_sheet
from ..jobs.models import Job
from ..jobs.rows import devices, job_by, new_injectors, vehicle_of
from ..jobs.schemas import Plate
from ..jobs.steps import finish
from ..maps.board import LIGHTS
from ..maps.loaded import in_computer
from ..maps.models import MapVersion, SavedImage
from ..maps.services import calibration_of
from ..schemas import CallOut, EvidenceOut
from ..shelf.services import record_of
from ..shop.access import full_name, worker
from ..shop.models import House

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
    mean_kw: float
    scatter_kw: float
    before_kw: float
    before_rpm: float
    after_kw: float
    after_rpm: float
    standard: str
    call: CallOut
    alike: CallOut


class LineOut(Schema):
    at: str
    who: str
    title: str
    text: str
    verdict: str


class ReportOut(Schema):
    house: str
    town: str
    made_at: str
    plate: Plate
    parts: list[str]
    settings: list[SettingOut]
    maps: list[MapLine]
    gain: GainOut | None
    no_gain: str
    readings: list[EvidenceOut]
    overruled: list[LineOut]
    feed: list[str]
    back: list[str]
    lights: list[str]
    recheck: list[str]
    law: list[str]
    record: list[LineOut]


def report_data(job: Job) -> dict[str, Any]:
    """Everything the report says, from this job's own rows."""
    house = House.current()
    versions = list(job.maps.select_related("by"))
    gain, no_gain = None, ""
    try:
        found = dyno.comparison_out(job)
        gain = {
            "mean_kw": found["mean_gain_kw"],
            "scatter_kw": found["mean_limit_kw"],
            "before_kw": round(found["peak_before"][0], 1),
            "before_rpm": found["peak_before"][1],
            "after_kw": round(found["peak_after"][0], 1),
            "after_rpm": found["peak_after"][1],
            "standard": found["standard"] if found["factor_valid"] else "none: as measured",
            "call": found["calls"][-1],
            "alike": next(call for call in found["calls"] if call["rule"] == "dyno.alike"),
            "sigma": found["sigma"],
            "crank": found["crank_kw"],
        }
    except VentMapError as error:
        no_gain = error.sentence
    steps = {step.key: step for step in run_sheet(job).steps}
    readings = []
    for done in job.steps_done.exclude(reading=None).order_by("at"):
        step = steps.get(done.key)
        if step and step.reading:
            limit = "–".join(f"{v:g}" for v in (step.reading.low, step.reading.high) if v is not None)
            readings.append(
                {
                    "label": f"{step.title} · {full_name(done.by)}",
                    "value": round(done.reading or 0, 3),
                    "limit": limit,
                    "unit": step.reading.unit,
                }
            )
    fitted, saved = devices(job), SavedImage.objects.filter(job=job).order_by("id").first()
    inside = in_computer(job).version
    return {
        "house": house.name,
        "town": house.town,
        "made_at": timezone.localtime().strftime("%Y-%m-%d %H:%M"),
        "plate": views.plate(job),
        "parts": [item.name for item in (*fitted, job.injectors, job.pump) if item],
        "settings": _settings(job),
        "gain": gain,
        "no_gain": no_gain,
        "maps": [
            {
                "version": v.version,
                "note": v.note,
                "crc32": v.crc32,
                "by": full_name(v.by),
                "at": f"{timezone.localtime(v.made_at):%Y-%m-%d %H:%M}",
                "loaded": v == inside,
            }
            for v in versions
        ],
        "readings": readings,
        "overruled": [
            _line(e) for e in job.ledger.exclude(overruled_by=None).select_related("by", "overruled_by")
        ],
        "feed": what_to_feed(vehicle_of(job).injection, job.ron, job.ethanol),
        "back": way_back(
            [(item.name, record_of(item, Device).kind) for item in fitted],
            new_injectors(job),
            job.pump is not None,
            f"{saved.label}, SHA-256 {saved.sha256[:16]}" if saved else "",
        ),
        "lights": LIGHTS,
        "recheck": ["leaks after the first heat cycle", "three cold starts", "one week: log and codes"],
        "law": law(job.changes, _rev_limits(job, versions)),
        "record": [_line(e) for e in reversed(job.ledger.select_related("by", "overruled_by"))],
    }


def _rev_limits(job: Job, versions: list[MapVersion]) -> tuple[float, float] | None:
    """The vehicle's own and the newest map's."""
    return (
        (vehicle_of(job).rev_limit, calibration_of(versions[-1]).scalars["rev_limit"]) if versions else None
    )


def _line(entry: Any) -> dict[str, str]:
    text = entry.text
    if entry.overruled_by:
        text = f"Overruled by {full_name(entry.overruled_by)}: {entry.overruled_reason}"
    return {
        "at": f"{timezone.localtime(entry.at):%m-%d %H:%M}",
        "who": full_name(entry.by),
        "title": entry.title,
        "text": text,
        "verdict": entry.verdict,
    }


def _settings(job: Job) -> list[dict[str, str]]:
    versions = list(job.maps.all())
    if len(versions) < 2:
        return []
    first, last = calibration_of(versions[0]), calibration_of(versions[-1])
    changes = diff(first, last)
    found = [
        {
            "name": SCALARS[c.item].text if c.item in SCALARS else c.item,
            "old": f"{c.old:g} {c.unit}",
            "new": f"{c.new:g} {c.unit}",
            "why": f"{versions[0].version} → {versions[-1].version}",
        }
        for c in changes
        if c.row is None and c.old is not None and c.new is not None
    ]
    for table, label in (("ve", "volumetric efficiency"), ("dead_time", "dead time")):
        cells = [c for c in changes if c.item == table and c.row is not None and c.old and c.new]
        if cells:
            by = [100 * ((c.new or 0) / (c.old or 1) - 1) for c in cells]
            found.append(
                {
                    "name": f"{label}: {len(cells)} cells",
                    "old": "",
                    "new": f"{min(by):+.1f} to {max(by):+.1f} %",
                    "why": "from the logs" if table == "ve" else "injector's sheet, then the logs",
                }
            )
    return found


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
    low = [g - s for g, s in zip(found["gain_kw"], found["limit_kw"], strict=True)]
    high = [g + s for g, s in zip(found["gain_kw"], found["limit_kw"], strict=True)]
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
def report_pdf(request: HttpRequest, number: str) -> HttpResponse:
    """The report as PDF; printing it is a step of the job."""
    job, by = job_by(number), worker(request)
    data = pdf(job)
    made(job, by)
    response = HttpResponse(data, content_type="application/pdf")
    response["Content-Disposition"] = f'attachment; filename="job-{number}.pdf"'
    return response

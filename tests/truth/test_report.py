"""The printed report of ten jobs, read back: a sentence without its record fails."""

from __future__ import annotations

import re
import subprocess
from collections.abc import Callable
from typing import Any

import pytest

from tests.conftest import by_night
from tests.shopwork import by_hand, intake, overrule, send, steps
from ventmap.server.jobs.models import Job
from ventmap.server.jobs.rows import devices as devices_of
from ventmap.server.maps.models import Load, SavedImage

#: Six of the sample shop, and four kits beside: number of the vehicle's job, devices.
BESIDE = [
    ("corvane-estate-20", ["kelmar-shift"]),
    ("ostrel-merrin-16t", ["kelmar-ethanol"]),
    ("ostrel-merrin-16t", ["ardle-open-96"]),
    ("corvane-estate-20-di", ["harrowgate-flash"]),
]
SECTIONS = (
    "What to feed it",
    "How to go back",
    "Lights to expect, and when to come again",
    "Law and warranty",
)


def did(*keys: str) -> Callable[[Job], bool]:
    """Whether one of these steps is on record as done, and not as set aside."""
    return lambda job: job.steps_done.filter(key__in=keys, set_aside="").exists()


#: The step by which a device is on the vehicle.
ON_BY = {"injector piggyback": "fit.feed_lead", "flasher": "load.read_back"}


def fitted(job: Job) -> bool:
    """Whether any device of the kit is on it: plugs on, feed lead on, or written through the port."""
    kinds = [item.body["kind"] for item in devices_of(job)]
    keys = {next((key for word, key in ON_BY.items() if word in kind), "fit.plugs") for kind in kinds}
    done = [row.key for row in job.steps_done.filter(set_aside="")]
    return any(key.startswith(marker) for key in done for marker in keys)


def kept_by_hand(job: Job) -> bool:
    """Somebody answered that the device read the stock image twice, alike."""
    return job.steps_done.filter(key__startswith="load.stock_kept", answer="kept", set_aside="").exists()


def was_set(job: Job) -> bool:
    """A level, a setting or a map is on record."""
    return did("fit.level")(job) or any(
        row.key.startswith(("load.read_back", "load.write", "fit.level"))
        for row in job.steps_done.filter(set_aside="")
    )


def always(job: Job) -> bool:
    return True


#: What a sentence claims → what has to be on record. A sentence that none of these knows fails.
CLAIMS: list[tuple[str, Callable[[Job], bool]]] = [
    (r"bypass plug was stowed", did("fit.bypass")),
    (r"feed line was cut", did("fit.feed_line")),
    (r"stock case was drilled", did("fit.case_hole")),
    (r"shift rod was made", did("fit.shift_rod")),
    (r"Pins were moved", did("fit.move_pins")),
    (r"^Stock injectors go back", did("fit.rail", "fit.seals", "fit.sizing")),
    (r"^The stock pump and its fuse go back", did("fit.pump")),
    (r"^Read out of the computer and kept, before the first write", lambda job: _saved_first(job)),
    (
        r"^Read out of the computer and kept, after a write",
        lambda job: SavedImage.objects.filter(job=job).exists(),
    ),
    (
        r"^No stock image is on record",
        lambda job: not SavedImage.objects.filter(job=job).exists() and not kept_by_hand(job),
    ),
    (r"^The stock image was read twice with the device and kept", kept_by_hand),
    (r"^While it is fitted it does not control", fitted),
    (r"^Nothing was fitted", lambda job: not fitted(job)),
    (r"^\d+ RON or better", lambda job: job.vehicle.body["injection"] != "diesel" and was_set(job)),
    (r"^as the maker of the vehicle names it: nothing was set", lambda job: not was_set(job)),
    (r"^diesel as the maker", lambda job: job.vehicle.body["injection"] == "diesel"),
    (
        r"^set with [\d.]+ % ethanol",
        lambda job: job.vehicle.body["injection"] != "diesel" and was_set(job),
    ),
    (r"^set at [\d.]+ % ethanol", did("fit.feed_line")),
    (r"^engine lamp, until the codes", lambda job: job.steps_done.filter(key__startswith="load.").exists()),
    (r"^(stability and steering lamps|clock)", did("make-safe.battery")),
    (r"^none is expected", lambda job: not did("make-safe.battery")(job)),
    (r"^re-check: ", always),
    (r"^A change may affect warranty|^Removing or disabling emission", always),
    (r"^It came with another", lambda job: bool(job.changes)),
    (r"^The rev limit is", lambda job: Load.objects.filter(job=job).exists()),
    (r"^Nothing of that kind is on record", always),
]


def _saved_first(job: Job) -> bool:
    saved = SavedImage.objects.filter(job=job).order_by("at").first()
    written = Load.objects.filter(job=job).order_by("started_at").first()
    return saved is not None and (written is None or saved.at <= written.started_at)


def read_back(pdf: bytes) -> str:
    text = subprocess.run(
        ["pdftotext", "-layout", "-", "-"], input=pdf, capture_output=True, check=True
    ).stdout
    return re.sub(r"(?m)^.* · page \d+ of \d+$", "", text.decode().replace("\f", "\n"))


def bullets(text: str, heading: str) -> list[str]:
    """Points of a section, with their lines joined; it ends at the next heading."""
    lines = text.split(f"\n{heading}\n", 1)[1].splitlines()
    body = lines[: next((n for n, line in enumerate(lines) if line[:1].strip(" \f•▪")), None)]
    return [" ".join(item.split()) for item in re.split(r"[•▪]\s", "\n".join(body))[1:]]


def taken_back(name: str) -> str:
    return rf"^{re.escape(name)}: "


def worked(lead: Any, number: str, last: str) -> None:
    """A job from Intake as far as a careful person comes by hand."""
    job = f"jobs/{number}"
    plate = lead.get(job)["plate"]
    intake(lead, job)
    lead.put(f"{job}/vehicle", {"vehicle": plate["vehicle_key"]})
    by_hand(lead, job, "intake", "plan", "make-safe", *(["fit"] if last != "make-safe" else []))
    if last == "end":
        by_hand(lead, job, "base-map", "load", "first-start", "correct")


@pytest.mark.parametrize("place", [0, 1, 2, 5, 8, *map(by_night, (3, 4, 6, 7, 9))])
def test_every_sentence_of_the_printed_report_has_its_record(lead, place):
    if place < 6:
        number = f"000{place + 1}"
    else:
        vehicle, devices = BESIDE[place - 6]
        number = lead.post("jobs", {"vehicle": vehicle, "registration": "SRP 9", "owner": "Dag Ferrow"})[
            "number"
        ]
        lead.put(f"jobs/{number}/kit", {"devices": devices})
        assert lead.status == 200
    worked(lead, number, ("make-safe", "fit", "end")[place % 3])
    job = Job.objects.get(number=number)
    text = read_back(lead.post(f"jobs/{number}/report"))
    claims = [*CLAIMS, *((taken_back(item.name), fitted) for item in devices_of(job))]
    for section in SECTIONS:
        points = bullets(text, section)
        assert points, f"{section} is empty"
        for point in points:
            known = [holds for pattern, holds in claims if re.search(pattern, point)]
            assert known, f"a sentence that no record stands for: {point}"
            assert all(holds(job) for holds in known), f"{number}: not on record: {point}"
    told = " ".join(text.split())
    by_hand_only = not any(step == "load.write" for step in steps(lead, f"jobs/{number}"))
    assert ("Nothing was written from here" in told) == by_hand_only
    assert "saved before" not in told
    assert "Mixture holds" not in told
    assert "is claimed" in told
    done = text.split("\nWhat was done and read\n")[-1].split("\nWhat was judged\n")[0]
    for key, step in steps(lead, f"jobs/{number}").items():
        if not step["done"] and step["stage"] != "hand-over":
            assert not re.search(rf"(?m)^ *{re.escape(step['title'][:40])}", done), f"{key} was not done"


RUN = "rpm,wheel power (kW)\n" + "".join(f"{rpm},{{}}\n" for rpm in range(3000, 6000, 100))
MADE = "gear=3&intake=21%20%C2%B0C&drum=bay%20drum&ramp=inertia"


@pytest.mark.parametrize("after", (60.1, 52.0), ids=("within scatter", "power was lost"))
def test_nobody_s_word_makes_a_gain_of_scatter_or_of_a_loss(lead, after):
    """A hold of the comparison may be overruled, to go on; the report says what was measured all the same."""
    job = "jobs/0005"
    for name, middle in (("before", 60.0), ("after", after)):
        for noise in (-0.8, 0.0, 0.8):
            send(
                lead,
                f"{job}/run-files?when={name}&name=run.csv&{MADE}",
                RUN.format(*[middle + noise] * 30).encode(),
            )
            assert lead.status == 200
    lead.post(f"{job}/comparison")
    overrule(lead, job, "dyno.gain", "The owner is content with it.")
    overrule(lead, job, "prove.baseline", "Codes were read elsewhere.")
    gain = lead.get(f"{job}/report")["gain"]
    assert not gain["claimed"]
    text = " ".join(read_back(lead.post(f"{job}/report")).split())
    assert "The gain is claimed" not in text
    assert "Shown, not claimed" in text
    assert "The owner is content with it." in text, "who answered for it, and with what reason, is said"

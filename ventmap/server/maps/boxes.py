"""Boxes beside the stock computer, and options over its program, as they run on the job's vehicle here."""

from __future__ import annotations

from ventmap.core.basics import BadInput
from ventmap.core.forms import BESIDE_FORMS, Calibration

from .. import bench
from ..jobs.assemble import linked, run_sheet, runs_here
from ..jobs.models import Job
from ..jobs.workshop import need_engine
from .models import MapVersion
from .parts import MapPart, parts, versions_of
from .services import calibration_of


def runs_beside(job: Job) -> list[tuple[MapPart, MapVersion, Calibration]]:
    """Each box or flasher of the kit with the map that it was set to and read back with; nothing for what
    works apart from the engine.

    Raises
    ------
    BadInput
        Where the engine does not run here, the kit cannot be run beside its computer, or a map is not in yet.
    """
    need_engine(job)
    if linked(job) or not runs_here(job):
        raise BadInput(
            "This kit is not written or run from here. Bring a log file, or the drum's own CSV.", "link"
        )
    done = set(job.steps_done.filter(set_aside="").values_list("key", flat=True))
    sheet = {step.key: step for step in run_sheet(job).steps}
    found = []
    for part in parts(job):
        if part.form.key not in BESIDE_FORMS:
            continue
        versions = versions_of(job, part.key)
        if not versions:
            raise BadInput(
                f"{part.item.name} has no map yet: choose it in Base map. Bring a log file if it needs none.",
                "map",
            )
        calibration = calibration_of(versions[-1])
        if calibration.form not in BESIDE_FORMS:
            raise BadInput(f"The map of {part.item.name} is another program's: it does not run here.", "map")
        back = f"load.read_back{part.tail}"
        if back in sheet and back not in done:
            title = sheet[back].title
            raise BadInput(f"Load: {title}. Until it is read back nobody knows what is in it.", "load")
        found.append((part, versions[-1], calibration))
    return found


def told(found: list[tuple[MapPart, MapVersion, Calibration]]) -> str:
    """What ran, in words."""
    words = []
    for part, version, calibration in found:
        words.append(f"{part.item.name} {version.version}{bench.place_of(calibration)}")
        left = bench.not_run(calibration)
        if left:
            words.append(f"which a pretend vehicle does not show: {', '.join(left)}")
    return ", ".join(words)

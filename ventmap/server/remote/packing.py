"""A round for a remote tuner, packed: vehicle, tank, map or image, logs, findings, and the letter."""

from __future__ import annotations

import hashlib
import io
import zipfile
from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from ventmap.core.basics import BadInput, Computer, how_many, standard_pressure
from ventmap.core.corrections import Package, PackedFile, PackedFinding, Vehicle, letter

from ..jobs import ledger
from ..jobs.acting import changes_job
from ..jobs.assemble import tank
from ..jobs.models import Job
from ..jobs.rows import vehicle_of
from ..logs.reviews import review_of
from ..logs.store import table
from ..maps.models import MapVersion, SavedImage, TunerRound
from ..maps.parts import main_part
from ..maps.services import calibration_of
from ..shop.models import House

STAGE = "correct"


def proposed(job: Job) -> str:
    """A letter for the next round, from what the logs show; to be changed by who sends it."""
    part, vehicle = main_part(job), vehicle_of(job)
    version = MapVersion.objects.filter(job=job, part=part.key).last()
    own = part.device.computer if isinstance(part.device, Computer) else vehicle.stock_computer
    logs = [(row.name, review_of(row)) for row in _logs(job)]
    return letter(
        vehicle=f"{job.vehicle.name}, engine {vehicle.engine}, {part.item.name}",
        identity=f"VIN {job.vin or 'not known'}; computer {own or 'not known'}.",
        tank=tank(job),
        place=f"Shop at {job.altitude_m:.0f} m, barometer about {standard_pressure(job.altitude_m):.0f} kPa.",
        goal=job.goal + (f", {job.power_goal_kw:g} kW at the crank" if job.power_goal_kw else ""),
        complaint=job.complaint,
        map_name=f"{calibration_of(version).name} {version.version}" if version else "stock",
        round_number=TunerRound.objects.filter(job=job).count() + 1,
        logs=logs,
        signed=f"{House.current().name}, job {job.number}",
    )


def _logs(job: Job) -> list[Any]:
    """The newest log after the work, else the stock log."""
    after = list(job.logs.filter(baseline=False).order_by("-id")[:1])
    return after or list(job.logs.filter(baseline=True).order_by("-id")[:1])


@changes_job
def pack(job: Job, text: str, by: User) -> TunerRound:
    """A package of the next round: identity, tank, map or image, logs, findings, and the letter as changed.

    Raises
    ------
    BadInput
        Where there is nothing to send, or the letter is empty.
    """
    if len(text.strip()) < 10:
        raise BadInput("Write the letter first: the tuner sees the vehicle through it.", "letter")
    part, vehicle = main_part(job), vehicle_of(job)
    version = MapVersion.objects.filter(job=job, part=part.key).last()
    image = SavedImage.objects.filter(job=job).first()
    rows = _logs(job)
    if version is None and not rows:
        raise BadInput("There is no map and no log yet: a tuner has nothing to go by.", "map")
    number = TunerRound.objects.filter(job=job).count() + 1
    files: dict[str, bytes] = {"letter.txt": text.encode()}
    findings = []
    for row in rows:
        name = f"logs/{row.pk}.csv"
        files[name] = table(row, "csv").read()
        for found in review_of(row).findings:
            evidence = [vars(item) for item in found.evidence]
            findings.append(
                PackedFinding(
                    log=row.name,
                    kind=found.kind,
                    verdict=found.verdict.value,
                    title=found.title,
                    from_s=found.from_s,
                    to_s=found.to_s,
                    evidence=evidence,
                )
            )
    if version is not None:
        files["map.json"] = version.document.encode()
    if image is not None:
        files["image.bin"] = bytes(image.image)
    own = part.device.computer if isinstance(part.device, Computer) else vehicle.stock_computer
    document = Package(
        job=job.number,
        round=number,
        made_at=timezone.now().isoformat(timespec="seconds"),
        shop=House.current().name,
        vehicle=Vehicle(
            name=job.vehicle.name,
            engine=vehicle.engine,
            vin=job.vin,
            computer=own,
            calibration=vehicle.stock_calibration,
            firmware=part.device.firmware or "",
        ),
        device=part.item.name,
        tank=tank(job),
        altitude_m=job.altitude_m,
        goal=job.goal,
        boosted=vehicle.boosted,
        map=_packed("map.json", files, version.version) if version else None,
        image=_packed("image.bin", files, image.label) if image else None,
        logs=[_packed(f"logs/{row.pk}.csv", files, row.name) for row in rows],
        findings=findings,
    )
    files["package.json"] = document.model_dump_json(indent=1).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, data in files.items():
            packed.writestr(name, data)
    made = TunerRound.objects.create(
        job=job,
        part=part.key,
        number=number,
        map=version,
        package=out.getvalue(),
        sha256=hashlib.sha256(files["package.json"]).hexdigest(),
        letter=text,
        by=by,
    )
    inside = f"map {version.version if version else 'none'}"
    said = f"{how_many(len(rows), 'log')}, {how_many(len(findings), 'finding')}, {inside}"
    ledger.write(job, STAGE, "map", f"Round {number} packed for the tuner", by, f"{said}; {made.sha256[:16]}")
    return made


def _packed(name: str, files: dict[str, bytes], about: str) -> PackedFile:
    return PackedFile(file=name, sha256=hashlib.sha256(files[name]).hexdigest(), about=about)

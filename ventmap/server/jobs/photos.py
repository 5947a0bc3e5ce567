"""Photos of a job: kept byte for byte, with a thumbnail and marks."""

from __future__ import annotations

import hashlib
import io
import threading
import uuid
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.db import transaction
from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from ventmap.core.basics import BadInput

from ..shop import kept_files
from ..shop.access import full_name
from . import ledger
from .acting import changing
from .assemble import step_by
from .models import Job, Photo
from .rows import NotFound
from .steps import reopen

LARGEST = 50_000_000
KINDS = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp"}
#: More pixels than any camera: a picture made to fill the memory.
MOST_PIXELS = 60_000_000
THUMB = 360
#: Less shows nothing to anybody [pixels].
LEAST_SIDE = 64
#: Tag of EXIF that says how the camera was held; from 5 on it lay on its side.
ORIENTATION = 0x0112


#: Decoding takes four bytes a pixel: pictures that come together wait for each other.
_one_at_a_time = threading.Lock()


def _upright(picture: Image.Image) -> tuple[int, int, Image.Image]:
    """Width and height as it is looked at, not as the camera was held; and a picture for a thumbnail."""
    width, height = picture.size
    # A JPEG is decoded at a fraction of its size, which is all that a thumbnail needs.
    picture.draft("RGB", (2 * THUMB, 2 * THUMB))
    try:
        turned = picture.getexif().get(ORIENTATION, 1)
        upright = ImageOps.exif_transpose(picture)
    except Exception:
        # What the camera wrote beside the picture is damaged; the picture is not.
        turned, upright = 1, picture
    if turned in (5, 6, 7, 8):
        width, height = height, width
    return width, height, upright.convert("RGB")


def _opened(data: bytes, name: str) -> tuple[str, int, int, bytes]:
    """Kind, width, height and thumbnail of a picture, or a sentence why it is none."""
    try:
        # A library that prints lets half a picture through, for the whole process: here it never is.
        ImageFile.LOAD_TRUNCATED_IMAGES = False
        with Image.open(io.BytesIO(data)) as picture:
            kind, (width, height) = str(picture.format), picture.size
            if kind not in KINDS:
                raise BadInput(f"{name} is a {kind} picture. Use JPEG, PNG or WebP.", "photo")
            if width * height > MOST_PIXELS:
                raise BadInput(
                    f"{name} has {width} × {height} pixels: more than a camera gives. Make it smaller.",
                    "photo",
                )
            if min(width, height) < LEAST_SIDE:
                raise BadInput(
                    f"{name} has {width} × {height} pixels: nothing can be seen on it. Take it anew.",
                    "photo",
                )
            with _one_at_a_time:
                width, height, upright = _upright(picture)
                upright.thumbnail((THUMB, THUMB))
                small = io.BytesIO()
                upright.save(small, "JPEG", quality=82)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise BadInput(
            f"{name} is no picture, whatever its name says. Use JPEG, PNG or WebP from the camera.", "photo"
        ) from error
    return kind, width, height, small.getvalue()


def too_large(name: str, size: int) -> BadInput:
    return BadInput(
        f"{name} has {size / 1e6:.0f} MB; pictures up to {LARGEST // 10**6} MB are kept. Take it at a smaller"
        " size.",
        "photo",
    )


def keep(job: Job, step: str, name: str, data: bytes, by: User) -> Photo:
    """Store a picture; where a step waits for one, its evidence is there."""
    name = Path(name).name[:200] or "picture"
    if not data:
        raise BadInput(f"{name} is empty.", "photo")
    if len(data) > LARGEST:
        raise too_large(name, len(data))
    stage = step_by(job, step).stage if step else "fit"
    kind, width, height, small = _opened(data, name)
    folder = Path(settings.MEDIA_ROOT) / "photos"
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / f"{uuid.uuid4().hex}.{kind.lower()}"
    digest = hashlib.sha256(data).hexdigest()
    kept_files.put(path, data)
    try:
        with changing(job):
            there = job.photos.filter(sha256=digest, step=step, by=by).first()
            if there is not None:
                # Sent again, because the answer was lost: it is the one that is there.
                path.unlink()
                return there
            photo = Photo.objects.create(
                job=job,
                step=step,
                name=name,
                path=str(path.relative_to(settings.MEDIA_ROOT)),
                sha256=digest,
                size=len(data),
                width=width,
                height=height,
                kind=kind,
                thumbnail=small,
                by=by,
            )
            ledger.write(
                job, stage, "photo", f"Photo: {name}", by, f"{width} × {height}, SHA-256 {photo.sha256[:16]}"
            )
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return photo


def photo_by(photo_id: int) -> Photo:
    photo = Photo.objects.select_related("job", "by").filter(pk=photo_id).first()
    if photo is None:
        raise NotFound("This photo is gone.", "photo")
    return photo


def mark(photo: Photo, marks: list[dict[str, Any]], by: User) -> Photo:
    """Pin numbers on a picture; the picture itself stays as it came."""
    for item in marks:
        if (
            not (0 <= item["x"] <= 1 and 0 <= item["y"] <= 1)
            or not item["label"].strip()
            or len(item["label"]) > 20
        ):
            raise BadInput("A mark lies on the picture and has a short label, like a pin number.", "marks")
    photo.marks = marks
    photo.save(update_fields=["marks"])
    labels = ", ".join(item["label"] for item in marks) or "none"
    ledger.write(photo.job, "fit", "photo", f"Marks on {photo.name}", by, labels)
    return photo


@transaction.atomic
def remove(photo: Photo, by: User) -> None:
    """Take a picture out of its step. The file and the line in the ledger stay: evidence is not destroyed."""
    step, job = photo.step, photo.job
    photo.step = ""
    photo.save(update_fields=["step"])
    ledger.write(job, "fit", "undo", f"Photo set aside: {photo.name}", by)
    if step and not job.photos.filter(step=step).exists():
        found = step_by(job, step)
        if found.evidence == "photo":
            reopen(job, step)


@transaction.atomic
def destroy(photo: Photo, by: User) -> None:
    """Delete a picture and its file for good; the ledger keeps that it was there, with its SHA-256."""
    remove(photo, by)
    path = Path(settings.MEDIA_ROOT) / photo.path
    ledger.write(photo.job, "fit", "undo", f"Photo deleted: {photo.name}", by, f"SHA-256 {photo.sha256[:16]}")
    photo.delete()
    transaction.on_commit(lambda: path.unlink(missing_ok=True))


def photo_out(photo: Photo) -> dict[str, Any]:
    return {
        "id": photo.pk,
        "step": photo.step,
        "name": photo.name,
        "size": photo.size,
        "width": photo.width,
        "height": photo.height,
        "sha256": photo.sha256,
        "marks": photo.marks,
        "who": full_name(photo.by),
        "at": photo.at,
    }

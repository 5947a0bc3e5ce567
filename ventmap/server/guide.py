"""The guide, shipped with the program: its chapters, its pictures, and the words of the trade."""

from __future__ import annotations

import re
from functools import lru_cache
from pathlib import Path
from typing import Any

from django.http import FileResponse, HttpRequest
from ninja import Router, Schema

from ventmap.core.basics import glossary

from .jobs.rows import NotFound
from .shop.access import person

router = Router(tags=["guide"])
#: The words stand in the guide as it is printed, from the same list.
WORDS = "## Words of the trade"
DOCS = Path(__file__).resolve().parents[2] / "docs"


class ChapterOut(Schema):
    key: str
    title: str
    text: str


class WordOut(Schema):
    word: str
    meaning: str


class GuideOut(Schema):
    chapters: list[ChapterOut]
    words: list[WordOut]


@lru_cache(maxsize=1)
def chapters() -> list[dict[str, str]]:
    """Chapters of the guide; a stage's chapter has the stage's key."""
    _, *parts = re.split(r"(?m)^(?=#{1,2} )", (DOCS / "guide.md").read_text())
    found = []
    for part in parts:
        head, _, text = part.partition("\n")
        if head == WORDS:
            continue
        title = re.sub(r"^#+ (\d+ )?", "", head).strip()
        key = re.sub(r"[^a-z]+", "-", title.lower()).strip("-")
        found.append({"key": "start" if head.startswith("# ") else key, "title": title, "text": text.strip()})
    return found


@router.get("/guide", response=GuideOut)
def guide(request: HttpRequest) -> Any:
    person(request)
    return {
        "chapters": chapters(),
        "words": [{"word": word, "meaning": meaning} for word, meaning in glossary()],
    }


@router.get("/guide/pictures/{name}")
def picture(request: HttpRequest, name: str) -> FileResponse:
    person(request)
    shown = [*(DOCS / "screenshots").glob("*.png"), *(DOCS / "faults").glob("*.svg")]
    found = next((path for path in shown if path.name == name), None)
    if found is None:
        raise NotFound("There is no such picture in the guide.", "name")
    kind = "image/png" if found.suffix == ".png" else "image/svg+xml"
    return FileResponse(found.open("rb"), content_type=kind)

"""The guide that ships: a chapter a stage, pictures that are there, words that it uses."""

from __future__ import annotations

import re

import pytest

from tests.conftest import ROOT
from ventmap.core.basics import STAGES
from ventmap.core.forms import guide_lines


def test_every_stage_has_its_chapter_and_every_picture_is_there(lead):
    told = lead.get("guide")
    keys = [chapter["key"] for chapter in told["chapters"]]
    assert keys[0] == "start"
    assert {stage.key for stage in STAGES} <= set(keys)
    assert "the-shop" in keys
    assert all(len(chapter["text"]) > 100 for chapter in told["chapters"])
    pictures = {
        name for c in told["chapters"] for name in re.findall(r"screenshots/([\w-]+\.png)", c["text"])
    }
    assert len(pictures) > 10
    for name in pictures:
        answer = lead.client.get(f"/api/guide/pictures/{name}")
        assert answer.status_code == 200, name
        assert answer["Content-Type"] == "image/png", name
    lead.get("guide/pictures/..%2Fguide.md")
    assert lead.status == 404


def test_the_words_of_the_trade_are_told_once_each(lead):
    words = lead.get("guide")["words"]
    names = [word["word"].lower() for word in words]
    assert names == sorted(set(names))
    assert {"dead time", "lambda", "overrun"} <= set(names)
    printed = (ROOT / "docs" / "guide.md").read_text().split("\n## Words of the trade\n")[1].split()
    assert printed == " ".join(f"- **{word['word']}**: {word['meaning']}" for word in words).split()
    assert all(word["meaning"].endswith(".") and len(word["meaning"]) < 140 for word in words)


@pytest.mark.parametrize("path", ["guide", "guide/pictures/floor.png"])
def test_the_guide_is_for_those_who_are_signed_in(client, path):
    assert client.get(f"/api/{path}").status_code == 401


def test_the_table_of_forms_is_made_from_their_descriptions():
    assert "\n".join(guide_lines()) in (ROOT / "docs" / "guide.md").read_text(encoding="utf-8")

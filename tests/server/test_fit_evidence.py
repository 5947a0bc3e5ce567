"""Evidence of Fit over the API: grids judged as they are filled, photos kept byte for byte."""

from __future__ import annotations

import hashlib

from tests.conftest import Api
from tests.shopwork import by_hand, picture, send, standing, steps
from ventmap.server.jobs.models import GridEntry, Photo

OSTREL = "jobs/0003"


class TestGridsOfAJob:
    def test_a_crossed_code_stops_until_both_are_entered_again(self, lead):
        number = lead.post(
            "jobs", {"vehicle": "corvane-estate-20-di", "registration": "SRP 902", "owner": "Dag Ferrow"}
        )["number"]
        job, key = f"jobs/{number}", "fit.codes"
        lead.put(f"{job}/plan", {"injectors": "corvane-dj-up"})
        # A code is entered with the battery on and the injectors seated.
        by_hand(lead, job, "make-safe", "fit", before=key)
        codes = [["512", "498"], ["530", "501"], ["505", "497"], ["520", "503"]]
        grid = lead.put(f"{job}/steps/{key}/grid", {"data": {"codes": codes}, "revision": 0})
        assert grid["view"]["entry"][1] == [0.6, 0.5]
        assert not grid["complete"]
        assert not standing(lead, job).get(f"step.{key}")
        crossed = [["0.24", "-1"], ["0.1", "0.5"], ["0.6", "-1.5"], ["0.4", "1.5"]]
        grid = lead.put(
            f"{job}/steps/{key}/grid",
            {"data": {"codes": codes, "read": crossed}, "revision": grid["revision"]},
        )
        assert [row[0] for row in grid["view"]["words"]] == ["fine", "crossed", "crossed", "fine"]
        assert {rule for rule in standing(lead, job) if rule.startswith("step.fit.codes")} == {
            "step.fit.codes",
            "step.fit.codes#2",
        }
        right = [[str(value) for value in row] for row in grid["view"]["entry"]]
        lead.put(
            f"{job}/steps/{key}/grid", {"data": {"codes": codes, "read": right}, "revision": grid["revision"]}
        )
        assert standing(lead, job)["step.fit.codes"]["verdict"] == "go"
        assert "step.fit.codes#2" not in standing(lead, job)
        assert steps(lead, job)[key]["done"]
        assert GridEntry.history.filter(step=key).count() == 3

    def test_polarity_and_a_contradiction(self, lead):
        key = f"{OSTREL}/steps/fit.common/grid"
        readings = [
            {"a": ["1", "B"], "b": ["2", "A"], "beeps": True},
            {"a": ["1", "B"], "b": ["3", "B"], "beeps": True},
        ]
        half = lead.put(key, {"data": {"readings": readings}, "revision": 0})
        assert "Plug 4 left out" in half["calls"][0]["title"]
        assert half["view"]["side"] == {
            "1": "B",
            "2": "A",
            "3": "B",
        }
        wrong = [*readings, {"a": ["2", "A"], "b": ["3", "B"], "beeps": False}]
        stop = lead.put(key, {"data": {"readings": wrong}, "revision": half["revision"]})
        assert stop["verdict"] == "stop"
        assert standing(lead, OSTREL)["step.fit.common"]["protects"] == "computer"
        told = lead.post(f"{OSTREL}/steps/fit.feed_lead/done", {})
        assert "First: Find the shared feed" in told["sentence"]
        good = [*readings, {"a": ["1", "B"], "b": ["4", "B"], "beeps": True}]
        untried = lead.put(key, {"data": {"readings": good}, "revision": stop["revision"]})
        assert untried["verdict"] == "hold"
        assert "Other sides" in untried["calls"][0]["title"]
        others = {"1": "A", "2": "B", "3": "A", "4": "A"}
        silent = [{"a": [plug, pin], "b": ["1", "B"], "beeps": False} for plug, pin in others.items()]
        lead.put(key, {"data": {"readings": good + silent}, "revision": untried["revision"]})
        assert steps(lead, OSTREL)["fit.common"]["done"]
        assert standing(lead, OSTREL)["step.fit.common"]["verdict"] == "go"
        lead.post(f"{OSTREL}/steps/fit.common/undo")
        assert not steps(lead, OSTREL)["fit.common"]["done"]
        assert "step.fit.common" not in standing(lead, OSTREL)

    def test_two_tablets_fill_one_grid_and_both_are_kept(self, shop):
        lead, installer = Api("lead"), Api("installer")
        by_hand(lead, OSTREL, "intake", "plan", "make-safe", "fit", before="fit.ground_drop")
        key = f"{OSTREL}/steps/fit.ground_drop/grid"
        names = lead.get(key)["about"]["grounds"]
        rows = [{"name": name, "static": ""} for name in names]
        mine = [{**row, "static": "20 mV"} if n == 0 else row for n, row in enumerate(rows)]
        theirs = [{**row, "static": "30 mV"} if n else row for n, row in enumerate(rows)]
        installer.put(key, {"data": {"rows": theirs}, "revision": 0})
        both = lead.put(key, {"data": {"rows": mine}, "revision": 0})
        assert [row["static"] for row in both["data"]["rows"]] == ["20 mV"] + ["30 mV"] * (len(names) - 1)
        assert both["complete"]
        clash = lead.put(key, {"data": {"rows": [{**row, "static": "44 mV"} for row in rows]}, "revision": 0})
        assert lead.status == 409
        assert "same field" in clash["sentence"]
        assert lead.get(key)["data"] == both["data"]

    def test_seal_timers_run_at_the_server(self, lead, monkeypatch):
        number = lead.post(
            "jobs", {"vehicle": "corvane-estate-20-di", "registration": "SRP 903", "owner": "Dag Ferrow"}
        )["number"]
        lead.put(f"jobs/{number}/plan", {"injectors": "corvane-dj-up"})
        key = f"jobs/{number}/steps/fit.sizing"
        assert "not running" in lead.post(f"{key}/seals/1", {"act": "seated"})["sentence"]
        for cylinder in (1, 2, 3, 4):
            lead.post(f"{key}/seals/{cylinder}", {"act": "sized"})
        row = GridEntry.objects.get(step="fit.sizing")
        row.data["seals"][0]["sized_at"] -= 75  # its minute is over
        row.save()
        for cylinder in (1, 2, 3, 4):
            grid = lead.post(f"{key}/seals/{cylinder}", {"act": "seated"})
        assert grid["verdict"] == "hold"
        assert "Size it again" in grid["calls"][0]["do_next"]
        lead.post(f"{key}/seals/1", {"act": "sized"})
        grid = lead.post(f"{key}/seals/1", {"act": "seated"})
        assert grid["verdict"] == "go"
        assert steps(lead, f"jobs/{number}")["fit.sizing"]["done"]

    def test_pin_plan_by_csv_there_and_back(self, lead):
        lead.put(f"{OSTREL}/kit", {"devices": ["ardle-open-96"]})
        key = f"{OSTREL}/steps/fit.pin_plan"
        needs = lead.get(f"{key}/grid")["about"]["needs"]
        text = (
            "connector,number,function,action\n"
            + "".join(f"A,{n},{need},keep\n" for n, need in enumerate(needs))
            + "A,0,spare,pull\n"
        )
        answer = send(lead, f"{key}/pin-plan?name=plan.csv", text.encode())
        assert {call["rule"] for call in answer["calls"]} == {"wiring.pin_twice", "wiring.pin_bare"}
        back = lead.client.get(f"/api/{key}/pin-plan").content.decode()
        assert back.count("\n") == len(needs) + 2
        assert "battery feed" in back
        told = send(lead, f"{key}/pin-plan", b"a,b\n1,2\n")
        assert lead.status == 422
        assert "unknown" in told["sentence"]
        assert lead.get(f"{key}/grid")["data"] == answer["data"]


class TestPhotos:
    def test_kept_byte_for_byte_with_thumbnail_and_marks(self, lead):
        data = picture("PNG", (800, 600))
        photo = send(lead, f"{OSTREL}/photos?step=fit.tap_1&name=charge%20pipe.png", data)
        assert (photo["width"], photo["height"], photo["sha256"]) == (
            800,
            600,
            hashlib.sha256(data).hexdigest(),
        )
        assert lead.client.get(f"/api/photos/{photo['id']}/file").content == data
        assert lead.client.get(f"/api/photos/{photo['id']}/thumbnail").content[:2] == b"\xff\xd8"
        marked = lead.put(f"photos/{photo['id']}/marks", {"marks": [{"x": 0.5, "y": 0.25, "label": "14"}]})
        assert marked["marks"][0]["label"] == "14"
        assert lead.client.get(f"/api/photos/{photo['id']}/file").content == data
        assert (
            "short label"
            in lead.put(f"photos/{photo['id']}/marks", {"marks": [{"x": 2, "y": 0, "label": "1"}]})[
                "sentence"
            ]
        )

    def test_a_photo_step_wants_its_photo_and_loses_it_again(self, lead):
        assert "picture first" in lead.post(f"{OSTREL}/steps/fit.tap_1/done", {})["sentence"]
        photo = send(lead, f"{OSTREL}/photos?step=fit.tap_1&name=a.jpg", picture())
        lead.post(f"{OSTREL}/steps/fit.tap_1/done", {})
        assert steps(lead, OSTREL)["fit.tap_1"]["done"]
        lead.call("delete", f"photos/{photo['id']}")
        assert not steps(lead, OSTREL)["fit.tap_1"]["done"]
        assert Photo.objects.filter(pk=photo["id"]).exists()

    def test_a_text_named_jpg_an_empty_one_and_thirty_megabytes(self, lead):
        for data, word in (
            (b"Dear sir, this is no picture", "is no picture"),
            (b"", "is empty"),
            (picture("GIF"), "Use JPEG"),
        ):
            assert word in send(lead, f"{OSTREL}/photos?step=fit.tap_1&name=x.jpg", data)["sentence"]
            assert lead.status == 422
        told = send(lead, f"{OSTREL}/photos?step=fit.tap_1&name=big.jpg", picture() + b"\0" * 50_000_000)
        assert "50 MB" in told["sentence"]
        assert lead.status == 422
        assert not Photo.objects.exists()
        wide = send(lead, f"{OSTREL}/photos?step=fit.tap_1&name=wide.png", picture("PNG", (8000, 7600)))
        assert "8000 × 7600 pixels" in wide["sentence"]
        assert lead.status == 422

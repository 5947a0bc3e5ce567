"""What was on a vehicle is stamped on its logs and runs: another level is another group, and says nothing."""

from __future__ import annotations

from tests.server.test_boxes import MERRIN, fitted, stock_log
from tests.server.test_sheets import edit
from tests.shopwork import by_hand, do, log, standing, steps
from ventmap.server.dyno.models import Run
from ventmap.server.logs.models import LogFile


def set_level(lead, level: int) -> None:
    """Another level, entered at the box and read back."""
    sheet = f"{MERRIN}/sheets/kelmar-shift"
    made = edit(lead, sheet, lead.get(sheet)["revision"], target="scalars", name="level", amount=str(level))
    assert lead.status == 200, made
    kept = lead.post(f"{sheet}/kept", {"note": "the one below was go"})
    assert lead.status == 200, kept


def test_a_level_is_judged_on_a_log_of_its_own(lead):
    stock_log(lead, MERRIN)
    fitted(lead, MERRIN)
    by_hand(lead, MERRIN, "load")
    log(lead, MERRIN)
    row = LogFile.objects.get(job__number="0003", baseline=False)
    assert "level 1" in row.state["inside"]
    assert LogFile.objects.get(job__number="0003", baseline=True).state["inside"] == "stock"
    assert "log.level_asleep" not in standing(lead, MERRIN)
    assert steps(lead, MERRIN)["log.review"]["done"]
    lead.post(f"{MERRIN}/runs", {"when": "after"})
    assert "level 1" in Run.objects.get(job__number="0003", when="after").state["inside"]
    set_level(lead, 2)
    open_again = steps(lead, MERRIN)
    assert not open_again["log.review"]["done"]
    assert "log.state" in standing(lead, MERRIN)
    for key, step in open_again.items():
        if key.startswith("load.") and not step["done"]:
            do(lead, MERRIN, step)
    lead.post(f"{MERRIN}/runs", {"when": "after"})
    alike = standing(lead, MERRIN)["prove.alike"]
    assert alike["verdict"] == "hold"
    assert "map or level differs" in str(alike)

"""Cases of the first start: outputs that answer at the wrong place, spark that is not where it is thought."""

from __future__ import annotations

from dataclasses import replace
from math import nan
from typing import Any

from tests.core.first_start import OUTPUTS, tried
from ventmap.core.basics import AccessItem
from ventmap.core.electrics import OutputSeen, base_timing_calls, output_call
from ventmap.core.findings import ColdStart, cold_start_calls
from ventmap.core.grids import judge_grid
from ventmap.core.loading import ASKED, HeldFile, picked_call, read_back_call
from ventmap.core.runsheet import ACCESS, EARLIER, FUEL_GATE, Act, Step, may

from .model import Case

LIMITS = {"hold_deg": 1.0, "stop_deg": 5.0}


def answered(key: str, seen: str, amps: float | None = None) -> Any:
    return output_call(OUTPUTS[key], OutputSeen(key=key, seen=seen, amps=amps))


def light(read: Any) -> Any:
    return base_timing_calls(locked=10.0, read=read, **LIMITS)


def faster(high: Any) -> Any:
    return base_timing_calls(locked=10.0, read=10.0, high=high, **LIMITS)


def set_to(new: Any) -> Any:
    """4° under the light, so 60 − 6 is asked for."""
    typed = {"read": "4", "old": "60", "new": new, "again": "10", "high": "10"}
    return judge_grid("base_timing", {}, typed)


def cold(**seen: Any) -> Any:
    sound = {"coolant_c": 12.0, "crank_s": 1.0, "lowest_rpm": 700.0, "idle_rpm": 1100.0, "mixture": 0.9}
    return cold_start_calls(ColdStart(**{**sound, **seen}), 850.0)


def by_hand_board(answers: dict[str, str], rows: int = 7) -> Any:
    sound = {key: next(iter(words)) for key, words in ASKED.items()} | answers
    found = judge_grid("board", {"keys": list(ASKED)}, {"answers": dict(list(sound.items())[:rows])})
    faults = [call for call in found.calls if call.verdict != "go"]
    return [replace(call, rule="load.board") for call in faults]


OPENED = [Step(f"fit.opened_{n}", "fit", title=f"Opened {n}", needs=FUEL_GATE) for n in range(3)]


def power_while(closed: int, relieved: bool = True) -> Any:
    """Power asked for while so many of three steps that opened fuel are done."""
    done = [step.key for step in OPENED[:closed]] + (list(FUEL_GATE) if relieved else [])
    return may(Act.power_on, [], OPENED, done)


def hull(waited: bool) -> Any:
    """Power asked for beside a hull that is aired, or not yet."""
    step = Step(
        "make-safe.bilge", "make-safe", title="Air the hull", evidence="timer", seconds=300, firm=True
    )
    return may(Act.power_on, [], [step], [step.key] if waited else [])


ON_THE_WAY = (
    AccessItem(name="engine cover"),
    AccessItem(name="upper plenum", nm=9.0, renew="gasket"),
)


def back(left: Any = "0", **plenum: Any) -> Any:
    """What came off is back; of the plenum, with which torque, and whether its gasket is new."""
    row = {"name": "upper plenum", "back": True, "renewed": True, "applied": "9", "wrench": "25", **plenum}
    about = {"items": [item.model_dump() for item in ON_THE_WAY]}
    return judge_grid("refit", about, {"rows": [{"name": "engine cover", "back": True}, row], "left": left})


def start_with(off: bool, back: bool) -> Any:
    """An engine started while what came off is back, or is not."""
    steps = [Step(ACCESS, "fit", title="Off"), Step("fit.refit", "fit", title="Back")]
    done = [step.key for step, so in zip(steps, (off, back), strict=True) if so]
    return may(Act.start, [], steps, done)


def begun_before(shut: bool) -> Any:
    """Power asked for while what was begun for another kit is shut, or is not."""
    step = Step(EARLIER, "fit", title="Shut what was begun", evidence="grid")
    return may(Act.power_on, [], [step], [EARLIER] if shut else [])


def lifted(seen: bool) -> Any:
    """Power asked for while the rail that was lifted is torqued, or is not, whatever became of its relief."""
    rail = Step("fit.rail", "fit", title="Torque the rail bolts", shuts="fuel", begun=True)
    return may(Act.power_on, [], [rail], ["fit.rail"] if seen else [])


def mounted(answer: str) -> Any:
    rows = [{"key": "heat", "title": "Heat", "why": "It ages", "answers": {"yes": "So", "no": "Nearer"}}]
    return judge_grid("checks", {"rows": [rows[0] | {"do_next": "Move it."}]}, {"answers": {"heat": answer}})


def plug(**known: Any) -> Any:
    row = {"name": "bank 1", "like": "bank 2", "labelled": True, "state": "tugged", **known}
    return judge_grid("plugs", {}, {"rows": [row]})


ROUNDS = [HeldFile(f"r{n}", "file to write", f"{n}" * 64, n) for n in (1, 2)]


def picked(sha256: str) -> Any:
    """What a tool is about to write, in the second round."""
    return picked_call("load.picked", "picked", sha256, ROUNDS)


def read_back(sha256: str) -> Any:
    return read_back_call("load.reads_back", "read", sha256, ROUNDS[1])


CASES = [
    Case("gate.not_back", lambda v: start_with(True, v), False, True, False, True, ()),
    Case("gate.not_back", lambda v: start_with(v, False), True, False, True, False, ()),
    Case("fit.point", mounted, "no", "yes", "no", "yes", ()),
    Case("fit.twin", lambda v: plug(labelled=v), False, True, False, True, ()),
    Case("fit.twin", lambda v: plug(labelled=False, like=v), "bank 2", "", "bank 2", " ", ()),
    Case("fit.left_over", back, "7", "0", "1", "0", ()),
    Case("fit.renewed", lambda v: back(renewed=v), False, True, False, True, ()),
    Case("fit.torque", lambda v: back(applied=v), "20", "9", "9.6", "9.1", ()),
    Case("gate.not_waited", hull, False, True, False, True, ()),
    Case("(picked_call)", picked, "3" * 64, "2" * 64, "1" * 64, "2" * 64, ("",)),
    Case("(read_back_call)", read_back, "3" * 64, "2" * 64, "1" * 64, "2" * 64, ("",)),
    Case("gate.fuel_open", power_while, 0, 3, 2, 3, ()),
    Case("gate.begun_before", begun_before, False, True, False, True, ()),
    Case("gate.fuel_open", lifted, False, True, False, True, ()),
    Case("gate.fuel_open", lambda v: power_while(0, v), True, False, True, False, ()),
    Case("cold.cold", lambda v: cold(coolant_c=v), 80.0, 5.0, 40.1, 39.9, (None, nan)),
    Case("cold.crank", lambda v: cold(crank_s=v), 9.0, 0.8, 3.1, 2.9, (None, nan)),
    Case("cold.alive", lambda v: cold(lowest_rpm=v), 0.0, 700.0, 424.0, 426.0, ()),
    Case("cold.idle", lambda v: cold(idle_rpm=v), 2500.0, 1000.0, 1751.0, 1749.0, (None,)),
    Case("cold.idle", lambda v: cold(idle_rpm=v), 400.0, 850.0, 699.0, 701.0, (None,)),
    Case("cold.mixture", lambda v: cold(mixture=v), 1.3, 0.9, 1.101, 1.099),
    Case("cold.mixture", lambda v: cold(mixture=v), 0.5, 0.9, 0.69, 0.71),
    Case("start.output", lambda v: answered("injector_2", v), "other", "works", "nothing", "works", ("",)),
    Case("start.output", lambda v: answered("coil_1", v), "stays", "works", "other", "absent", ("",)),
    Case("start.output", lambda v: answered("pump", v), "stays", "works", "absent", "works", ("",)),
    Case("start.output", lambda v: answered("injector_1", v), "absent", "works", "stays", "works", ("",)),
    # Somebody heard a click, and no current flowed: it was another one's.
    Case("start.output", lambda v: answered("injector_1", "works", v), 0.0, 0.95, 0.05, 0.06, ()),
    Case("load.board", by_hand_board, {"laptop": "low"}, {}, {"laptop": "battery"}, {"newest": "yes"}, ()),
    Case("load.board", lambda v: by_hand_board({}, v), 0, 7, 6, 7, ()),
    # What was tried without what makes it safe was not tried.
    Case(
        "(missing)", tried, ("still",), ("still", "clear", "no_vapour", "no_pressure", "closed"), (), None, ()
    ),
    Case("timing.base", light, 20.0, 10.0, 11.1, 10.9),
    Case("timing.base", light, 2.0, 10.0, 8.9, 9.1),
    Case("timing.speed", faster, 4.0, 10.0, 8.9, 9.1),
    Case("timing.offset", set_to, "66", "54", "54.6", "54.4", ("",)),
]

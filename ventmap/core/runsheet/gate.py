"""One gate: what somebody is about to do, what that endangers, and which stops stand in its way.

Every act asks here, by link or by hand. A stop of any stage bars the acts that endanger what it protects; the
way out is to put right what it says, never another act.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from ..basics import Call, Evidence, Verdict
from .access import ACCESS, SHUT_AGAIN
from .begun import EARLIER, opens_fuel_at
from .make_safe import FUEL_GATE
from .model import Step


class Act(StrEnum):
    """What touches the vehicle, its computer, the owner, or the proof; in the words of a refusal."""

    as_it_came = "run it as it came"
    open_fuel = "open fuel"
    power_on = "put power on"
    start = "start the engine"
    log = "drive it for a log"
    run = "run it on the drum"
    write = "write to its computer"
    enter = "set the device"
    claim = "claim a gain"
    hand_over = "hand it over"


_A = Act
#: Acts that run the engine with the kit, from idle to full load.
ENGINE = frozenset({_A.start, _A.log, _A.run})
#: Acts that put current on what was fitted.
POWERED = frozenset({_A.power_on, _A.write, _A.enter}) | ENGINE
#: After these there may be pressure in the rail again.
PRIMES = POWERED | {_A.as_it_came}
#: What is told to the owner.
TOLD = frozenset({_A.claim, _A.hand_over})


@dataclass(frozen=True)
class Bar:
    """Stops of a stage whose rule begins so bar these acts; `now`: only while what they judged is on it."""

    stage: str
    rule: str
    acts: frozenset[Act]
    now: frozenset[Act] = frozenset()


#: The first that fits counts; the last of each stage is for whatever rule comes next.
BARS: tuple[Bar, ...] = (
    Bar("intake", "", ENGINE | TOLD | {_A.as_it_came}),
    Bar("plan", "", ENGINE | TOLD | {_A.write, _A.enter}),
    Bar("baseline", "", frozenset({_A.write, _A.enter, _A.hand_over})),
    Bar("make-safe", "", frozenset({_A.open_fuel})),
    Bar("fit", "", POWERED | TOLD),
    Bar("base-map", "", frozenset({_A.write, _A.enter, _A.hand_over}), now=ENGINE | {_A.claim}),
    # A cut write is mended by a write; what is in cannot run meanwhile.
    Bar("load", "load.interrupted", ENGINE | TOLD),
    Bar("load", "load.entry", ENGINE | TOLD),
    # What a tool is about to write is none of this job's files.
    Bar("load", "load.picked", ENGINE | TOLD | {_A.write, _A.enter}),
    Bar("load", "step.load.read_back", ENGINE | TOLD),
    Bar("load", "step.load.", frozenset({_A.write, _A.enter})),
    # Rows of the board are asked anew before every write, by the write itself.
    Bar("load", "", frozenset()),
    # Timing is read again at idle, an idle by starting again; neither is driven with.
    Bar("first-start", "step.first-start.base_timing", TOLD | {_A.log, _A.run}),
    Bar("first-start", "start.", TOLD | {_A.log, _A.run}),
    Bar("first-start", "", ENGINE | TOLD),
    Bar("log", "", TOLD | {_A.run}, now=frozenset({_A.log})),
    # A tuner's file that is not taken is on no vehicle.
    Bar("correct", "tuner.", frozenset()),
    Bar("correct", "", TOLD),
    Bar("prove", "", frozenset({_A.claim})),
    Bar("hand-over", "", frozenset({_A.hand_over})),
)


@dataclass(frozen=True)
class Standing:
    """A stop that stands; `now`: whether what it judged is on the vehicle, as it is."""

    stage: str
    call: Call
    now: bool = True


def bars(stop: Standing) -> frozenset[Act]:
    """The acts that a stop stands in the way of."""
    found = next(bar for bar in BARS if bar.stage == stop.stage and stop.call.rule.startswith(bar.rule))
    return found.acts | (found.now if stop.now else frozenset())


def may(
    act: Act,
    standing: Iterable[Standing],
    steps: Sequence[Step] = (),
    done: Iterable[str] = (),
    own: str = "",
    aside: Iterable[str] = (),
) -> list[Call]:
    """What stands in the way of an act; nothing where it may be done.

    Parameters
    ----------
    standing : iterable of Standing
        Calls that stand and that nobody overruled.
    steps, done : sequence of Step, iterable of str
        The sheet, and the keys of what is done on it, not set aside.
    own : str
        A rule whose stop the act itself answers anew: it does not stand in its own way.
    aside : iterable of str
        Keys of what was set aside with its reason: a rail on clips has no bolts to torque.
    """
    ended = set(done)
    found = [
        stop.call
        for stop in standing
        if stop.call.verdict is Verdict.stop
        and act in bars(stop)
        and not (own and stop.call.rule.split("#")[0] == own)
    ]
    if act in POWERED:
        found += (
            _fuel_open(steps, ended, set(aside)) + _begun_before(steps, ended) + _not_waited(steps, ended)
        )
    if act in ENGINE:
        found += _not_back(steps, ended)
    return found


def _not_back(steps: Sequence[Step], done: set[str]) -> list[Call]:
    """What came off is not back, or what ran out is not filled: no engine runs so."""

    def was_opened(shuts: str) -> bool:
        return any(
            step.begun or step.key in done
            for step in steps
            if step.key in SHUT_AGAIN[shuts] or (step.opens and shuts == f"fit.{step.opens}_level")
        )

    return [
        _call("gate.not_back", f"Not back together: {step.title}", step, Evidence("not done", step.title))
        for step in steps
        if step.key in SHUT_AGAIN and step.key not in done and was_opened(step.key)
    ]


def _call(rule: str, title: str, step: Step, because: Evidence, source: str = "") -> Call:
    """A stop whose way out is a step of the sheet."""
    return Call(
        rule,
        verdict=Verdict.stop,
        because=(because,),
        do_next=f"First: {step.title}.",
        source=source or step.wrong,
        title=title,
        protects="people",
    )


def _not_waited(steps: Sequence[Step], done: set[str]) -> list[Call]:
    """What only a wait makes safe, and nobody waited for: vapour in a hull, and a switch."""
    return [
        _call(
            "gate.not_waited",
            f"Not waited for: {step.title}",
            step,
            Evidence("to wait", round(step.seconds / 60, 1), unit="min"),
        )
        for step in steps
        if step.firm and step.key not in done
    ]


def _begun_before(steps: Sequence[Step], done: set[str]) -> list[Call]:
    """What was begun for another kit lies as it was left: bare leads, loose joints, plugs that hang."""
    title = "Work that was begun is not shut"
    return [
        _call("gate.begun_before", title, step, Evidence("not shut yet", step.title))
        for step in steps
        if step.key == EARLIER and step.key not in done
    ]


def _fuel_open(steps: Sequence[Step], done: set[str], aside: set[str]) -> list[Call]:
    """Fuel is open from its relief to the last step that opens or shuts it: power primes the pump into the
    bay. What is remembered as begun is open whether its relief still stands as done or not. What only shuts
    may not be there: seals that came fitted, a rail without bolts.
    """
    relieved = FUEL_GATE[-1] in done
    left = [
        step
        for step in steps
        if (opens_fuel_at(step) or step.shuts)
        and step.key not in done
        and not (step.shuts and step.key in aside)
        and (step.begun or (relieved and step.key != ACCESS))
    ]
    if not left:
        return []
    source = "Many pumps prime as soon as there is power"
    because = Evidence("steps that close it", len(left), 0)
    return [_call("gate.fuel_open", "The fuel system is open", left[0], because, source)]


#: The gate's own stops → the slat where each is put right.
WAY_OUT = {
    "gate.not_back": "fit",
    "gate.fuel_open": "fit",
    "gate.begun_before": "fit",
    "gate.not_waited": "make-safe",
}

#: Steps of the first start with the engine still; every other one runs it.
KEY_ON = (
    "first-start.map_key_on",
    "first-start.key_on",
    "first-start.soak",
    "first-start.pedal",
    "first-start.outputs",
    "first-start.both_sensors",
    "first-start.not_controlled",
)


def act_of(step: Step) -> Act | None:
    """What doing a step by hand comes to; None where it touches nothing."""
    if opens_fuel_at(step):
        return Act.open_fuel
    if step.key == "fit.power":
        return Act.power_on
    if step.key.startswith(("load.read_back", "load.entry", "base-map.settings")):
        return Act.enter
    if step.stage == "first-start":
        return Act.power_on if step.key.startswith(KEY_ON) else Act.start
    return Act.hand_over if step.key == "hand-over.told" else None

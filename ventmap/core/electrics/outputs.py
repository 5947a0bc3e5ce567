"""Output tests, key on, engine still: what is driven, what has to be so first, what is seen."""

from __future__ import annotations

from collections.abc import Collection

from ..basics import BadInput, Call, Evidence, Record, Verdict


class Interlock(Record):
    """What has to be so before an output is driven: `key`, the words that are confirmed, and why; `ends`:
    what is no longer so once this is.
    """

    key: str
    says: str
    why: str
    ends: str = ""


class Output(Record):
    """One thing that the computer drives, or a switch that it reads.

    `kind` is ``brake``, ``fan``, ``coil``, ``injector`` or ``pump``; `interlocks` are keys of `Interlock`;
    `absent`: whether a vehicle may do without it; `expect`: what a sound one does.
    """

    key: str
    label: str
    kind: str
    expect: str
    interlocks: tuple[str, ...]
    absent: bool = False


class OutputSeen(Record):
    """What came of one test: `seen` is a key of `SEEN`, `amps` the current that the computer measured in its
    driver [A], None where nothing measured it.
    """

    key: str
    seen: str
    amps: float | None = None


STILL = Interlock(
    key="still",
    says="Key on, engine still, out of gear, held so that it cannot move",
    why="An engine that turns while its outputs are driven answers to nobody.",
)
CLEAR = Interlock(
    key="clear",
    says="Hands, hair, clothes and leads clear of the fan",
    why="A fan starts at once, and at full speed.",
)
NO_PRESSURE = Interlock(
    key="no_pressure",
    says="Pump fuse or relay out, rail without pressure",
    why="An injector that opens under pressure fills its cylinder: the crank bends a rod on it, or a spark"
    " lights it.",
    ends="closed",
)
NO_VAPOUR = Interlock(
    key="no_vapour",
    says="No smell of fuel, plugs in place or grounded, nobody touches coils or leads",
    why="A coil gives tens of kilovolts, and lights what is around.",
)
CLOSED = Interlock(
    key="closed",
    says="Every fuel union closed, pump fuse back in, extinguisher at hand, no flame",
    why="The first prime shows every union that was left open.",
    ends="no_pressure",
)
HIGH_VOLTAGE = Interlock(
    key="high_voltage",
    says="Injector plugs on and untouched; the maker's procedure for the high-pressure side was followed",
    why="Direct and diesel injectors are driven with up to 160 V.",
)
INTERLOCKS = (STILL, CLEAR, NO_VAPOUR, NO_PRESSURE, HIGH_VOLTAGE, CLOSED)

#: What a person answers, by key.
SEEN = {
    "works": "It does that",
    "nothing": "Nothing",
    "other": "Another one answers",
    "stays": "It does not stop",
    "absent": "This vehicle has none",
}
#: Below this a driver carries no current: the circuit is open [A].
OPEN_A = 0.05


def outputs_of(cylinders: int, injection: str, rotary: bool = False) -> tuple[Output, ...]:
    """What is tried on an engine, in the order that keeps fuel and spark apart.

    Coils before injectors, injectors before the pump: no fuel is about when a spark is made, and nothing is
    under pressure when an injector opens.

    Parameters
    ----------
    cylinders : int
    injection : str
        ``port``, ``direct``, ``both`` or ``diesel``; a diesel has no coils.
    rotary : bool
        Cylinders are rotors: each has a leading and a trailing plug, and may have a second injector.

    Examples
    --------
    >>> [one.key for one in outputs_of(2, "port")]
    ['brake', 'fan_slow', 'fan_fast', 'coil_1', 'coil_2', 'injector_1', 'injector_2', 'pump']
    """
    numbers = range(1, cylinders + 1)
    where, first, primary = ("rotor", "leading ", "primary ") if rotary else ("cylinder", "", "")
    high = ("high_voltage",) if injection != "port" else ()

    def coil(key: str, label: str, at: str) -> Output:
        return Output(
            key=key,
            label=label,
            kind="coil",
            expect=f"one sharp tick a second at {at}, five of them",
            interlocks=("still", "no_vapour", "no_pressure"),
            absent=True,
        )

    def injector(key: str, label: str, n: int, absent: bool = False) -> Output:
        return Output(
            key=key,
            label=label,
            kind="injector",
            expect=f"it clicks at {where} {n}, five times, and shuts",
            interlocks=("still", "no_pressure", *high),
            absent=absent,
        )

    spark = "the leading plug of rotor" if rotary else "cylinder"
    coils = [coil(f"coil_{n}", f"{first}coil {n}", f"{spark} {n}") for n in numbers]
    injectors = [injector(f"injector_{n}", f"{primary}injector {n}", n) for n in numbers]
    if rotary:
        # A trailing plug that fires in the leading one's place fires before it: the seals go at once.
        at = "the trailing plug of rotor"
        coils += [coil(f"trailing_{n}", f"trailing coil {n}", f"{at} {n}") for n in numbers]
        injectors += [injector(f"secondary_{n}", f"secondary injector {n}", n, absent=True) for n in numbers]
    return (
        Output(
            key="brake",
            label="brake switch",
            kind="brake",
            expect="pressed reads on, let go reads off",
            interlocks=("still",),
            absent=True,
        ),
        Output(
            key="fan_slow",
            label="fan, slow",
            kind="fan",
            expect="it runs slowly for five seconds and stops",
            interlocks=("still", "clear"),
            absent=True,
        ),
        Output(
            key="fan_fast",
            label="fan, fast",
            kind="fan",
            expect="it runs fast for five seconds and stops",
            interlocks=("still", "clear"),
            absent=True,
        ),
        *([] if injection == "diesel" else coils),
        *injectors,
        Output(
            key="pump",
            label="fuel pump",
            kind="pump",
            expect="it hums for two seconds and stops; every union stays dry",
            interlocks=("still", "closed"),
            # What injects petrol has a pump; a diesel may lift its fuel by the engine.
            absent=injection == "diesel",
        ),
    )


def locked(output: Output, confirmed: Collection[str]) -> Interlock | None:
    """What has to be so before this one is driven and was not confirmed; None where all is."""
    known = {lock.key: lock for lock in INTERLOCKS}
    return next((known[key] for key in output.interlocks if key not in confirmed), None)


def output_call(output: Output, seen: OutputSeen) -> Call:
    """Judge what one test showed.

    Raises
    ------
    BadInput
        If the answer is none of `SEEN`.
    """
    if seen.seen not in SEEN:
        raise BadInput(f"{output.label}: say what was seen; “{seen.seen}” is no answer.", "seen")
    verdict, advice, protects = _judged(output, seen)
    because = [Evidence(output.label, SEEN[seen.seen].lower(), output.expect)]
    if seen.amps is not None:
        because.append(Evidence("current in its driver", round(seen.amps, 2), f"above {OPEN_A:g}", unit="A"))
    return Call(
        "start.output",
        verdict=verdict,
        because=tuple(because),
        do_next=advice,
        source="Output test before the first start; the maker's procedure first",
        title=output.label[0].upper() + output.label[1:],
        protects=protects,
        row=output.key,
    )


def _judged(output: Output, seen: OutputSeen) -> tuple[Verdict, str, str]:
    fuel_or_spark = output.kind in ("coil", "injector")
    open_circuit = seen.amps is not None and not seen.amps > OPEN_A
    if seen.seen == "absent":
        if output.absent:
            return Verdict.go, "Not on this vehicle.", ""
        return Verdict.hold, "Every engine has one: find it, and try again.", ""
    if seen.seen == "other":
        if fuel_or_spark:
            advice = (
                f"Do not start: another cylinder answers to {output.label}. Two plugs or two pins are"
                " exchanged: put them right by their labels, and try every one again."
            )
            return Verdict.stop, advice, "engine"
        return Verdict.hold, f"Another one answers to {output.label}: two outputs are exchanged.", ""
    if seen.seen == "stays":
        if output.kind in ("injector", "coil", "pump"):
            advice = {
                "injector": "Key off at once: it floods its cylinder. Its driver or its wire is shorted.",
                "coil": "Key off at once: it burns. Its driver or its wire is shorted.",
                "pump": "Key off: a pump that never stops feeds every leak. Relay or its wire is shorted.",
            }[output.kind]
            return Verdict.stop, advice, "people" if output.kind == "pump" else "engine"
        return Verdict.hold, "It stays on: relay or switch.", ""
    if seen.seen == "nothing":
        cause = "plug, wire, fuse or relay" if open_circuit or seen.amps is None else "it is stuck itself"
        return Verdict.hold, f"Nothing: {cause}. Put it right, then try it again.", ""
    if open_circuit:
        advice = "The computer drives it and no current flows: what was heard was another one. Try it again."
        return Verdict.hold, advice, ""
    return Verdict.go, "It answers.", ""

"""The shared feed of injector plugs, found by continuity."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from ..basics import BadInput, Call, Evidence, Verdict

#: One pin: (plug, pin).
Place = tuple[str, str]
SOURCE = "Continuity: pins that beep across plugs are one wire"


@dataclass(frozen=True)
class CommonSide:
    """`side`: plug → the pin on the shared feed, for the plugs that are settled; `groups`: the wires
    found.
    """

    side: dict[str, str]
    calls: tuple[Call, ...]
    groups: tuple[tuple[Place, ...], ...] = field(default_factory=tuple)


def _wires(joined: Iterable[tuple[Place, Place]]) -> list[set[Place]]:
    """Connected components of pins that beep together."""
    wires: list[set[Place]] = []
    for a, b in joined:
        touched = [wire for wire in wires if a in wire or b in wire]
        merged = {a, b}.union(*touched)
        wires = [wire for wire in wires if wire not in touched] + [merged]
    return wires


def common_side(
    plugs: Sequence[str],
    joined_pins: Iterable[tuple[Place, Place]],
    silent_pins: Iterable[tuple[Place, Place]] = (),
    banks: int = 1,
    pins: Sequence[str] = ("A", "B"),
) -> CommonSide:
    """Find the shared feed of injector plugs that are off their injectors.

    Parameters
    ----------
    plugs : sequence of str
    joined_pins, silent_pins : iterable of ((plug, pin), (plug, pin))
        Pairs that beep, and pairs that were tried and do not.
    banks : int
        Banks of the engine: each has a feed of its own.
    pins : sequence of str
        Pins of each plug.

    Returns
    -------
    CommonSide
        *Go* where the number of feeds is that of the banks, every plug hangs on one, and the other pins were
        tried against it and stay silent. Otherwise each fault by name.

    Notes
    -----
    Engines that fire injectors in pairs join the *switched* sides in pairs too: a few beeping pairs prove
    nothing.

    Examples
    --------
    >>> found = common_side(["1", "2"], [(("1", "B"), ("2", "A"))])
    >>> found.side
    {'1': 'B', '2': 'A'}
    """
    names = list(dict.fromkeys(plugs))
    if len(names) < 2:
        raise BadInput("A shared feed needs at least two plugs.", "plugs")
    joined = [(_known(a, names), _known(b, names)) for a, b in joined_pins]
    silent = [(_known(a, names), _known(b, names)) for a, b in silent_pins]
    wires = _wires(pair for pair in joined if pair[0] != pair[1])
    faults = [*_contradictions(wires, silent), *_both_sides(wires, names)]
    feeds = [wire for wire in wires if len({plug for plug, _ in wire}) == len(wire)]
    side: dict[str, str] = {}
    if not any(call.verdict is Verdict.stop for call in faults):
        wrong = _feeds_and_banks(feeds, names, banks)
        if not wrong:
            side = dict(sorted(place for wire in feeds for place in wire))
        faults += wrong or _left_out(names, side) or _other_sides(feeds, silent, pins)
    good = not faults
    if good:
        words = "one shared feed" if len(feeds) == 1 else f"one shared feed in each of {len(feeds)} banks"
        faults = [
            Call(
                "wiring.common_side",
                verdict=Verdict.go,
                because=(
                    Evidence("plugs with one marked side", len(side), len(names)),
                    Evidence("shared feed", words),
                ),
                do_next="Put the feed lead on the marked side of every plug.",
                source=SOURCE,
                title="Shared feed found",
            )
        ]
    return CommonSide(
        {name: side[name] for name in names if name in side},
        tuple(faults),
        tuple(tuple(sorted(wire)) for wire in wires),
    )


def _known(place: Place, names: Sequence[str]) -> Place:
    plug, pin = str(place[0]), str(place[1])
    if plug not in names:
        raise BadInput(f"There is no plug “{plug}”: the plugs are {', '.join(names)}.", "joined_pins")
    return plug, pin


def _fault(rule: str, verdict: Verdict, title: str, advice: str, *because: Evidence) -> Call:
    return Call(
        rule,
        verdict=verdict,
        because=because,
        do_next=advice,
        source=SOURCE,
        title=title,
        protects="computer" if verdict is Verdict.stop else "",
    )


def _contradictions(wires: Sequence[set[Place]], silent: Iterable[tuple[Place, Place]]) -> list[Call]:
    found = []
    for a, b in silent:
        if any(a in wire and b in wire for wire in wires):
            found.append(
                _fault(
                    "wiring.contradiction",
                    Verdict.stop,
                    "Readings contradict each other",
                    f"{a[0]} {a[1]} and {b[0]} {b[1]} beep by way of other pins, yet were entered as silent."
                    " Measure this pair again.",
                    Evidence("pair", f"{a[0]} {a[1]} – {b[0]} {b[1]}"),
                )
            )
    return found


def _both_sides(wires: Sequence[set[Place]], names: Sequence[str]) -> list[Call]:
    """One wire with two pins of a plug; or a second wire over the same plugs."""
    found = []
    for wire in wires:
        for plug in names:
            pins = sorted(pin for name, pin in wire if name == plug)
            if len(pins) > 1:
                found.append(
                    _fault(
                        "wiring.both_sides",
                        Verdict.stop,
                        f"Both sides of plug {plug} are on one wire",
                        "A plug still on its injector beeps through the coil. Pull it off, look for a shorted"
                        " lead, and measure again.",
                        Evidence(f"plug {plug}", " and ".join(pins)),
                    )
                )
    if found:
        return found
    twice = [plug for plug in names if sum(any(name == plug for name, _ in wire) for wire in wires) > 1]
    if twice:
        found.append(
            _fault(
                "wiring.both_sides",
                Verdict.stop,
                "Both sides look common",
                f"Plug {', '.join(twice)} shares each of its sides with other plugs. Unplug the computer: its"
                " drivers join what should be apart.",
                Evidence("plugs with both sides shared", ", ".join(twice)),
            )
        )
    return found


def _feeds_and_banks(feeds: Sequence[set[Place]], names: Sequence[str], banks: int) -> list[Call]:
    """More wires than banks: pairs of a batch-fired engine's switched side, or a feed not yet joined up."""
    if len(feeds) <= banks:
        return []
    found = "; ".join(" ".join("".join(place) for place in sorted(wire)) for wire in feeds)
    return [
        _fault(
            "wiring.banks",
            Verdict.hold,
            f"{len(feeds)} wires found, {banks} feed{'s' if banks > 1 else ''} expected",
            "Engines that fire injectors in pairs join the switched sides in pairs too. Try one pin of each"
            " wire against the others, and the pins not tried yet, until all plugs hang on one.",
            Evidence("wires", len(feeds), banks),
            Evidence("found", found),
            Evidence("plugs", len(names)),
        )
    ]


def _other_sides(
    feeds: Sequence[set[Place]], silent: Sequence[tuple[Place, Place]], pins: Sequence[str]
) -> list[Call]:
    """Pins beside the feed that nobody tried against it: a shorted plug would beep there too."""
    open_ = []
    for feed in feeds:
        for plug, pin in sorted(feed):
            for other in pins:
                place = (plug, other)
                tried = any(place in pair and feed & set(pair) for pair in silent)
                if other != pin and not tried:
                    open_.append(f"{plug} {other}")
    if not open_:
        return []
    return [
        _fault(
            "wiring.other_side",
            Verdict.hold,
            "Other sides not tried yet",
            f"Try {', '.join(open_[:4])}{' and the rest' if len(open_) > 4 else ''} against a marked pin:"
            " each must stay silent.",
            Evidence("pins still to try", len(open_), 0),
        )
    ]


def _left_out(names: Sequence[str], side: dict[str, str]) -> list[Call]:
    if not side:
        return [
            _fault(
                "wiring.no_common_side",
                Verdict.hold,
                "No common side found",
                "No pin beeps with another plug. Check the meter by touching its tips, and that the plugs are"
                " off and the battery too.",
                Evidence("plugs that share a wire", 0, len(names)),
            )
        ]
    missing = [name for name in names if name not in side]
    if not missing:
        return []
    return [
        _fault(
            "wiring.left_out",
            Verdict.hold,
            f"Plug {', '.join(missing)} left out",
            "Measure it against a marked side. If it stays silent its feed is broken, or it belongs to"
            " another bank.",
            Evidence("plugs with a marked side", len(side), len(names)),
        )
    ]

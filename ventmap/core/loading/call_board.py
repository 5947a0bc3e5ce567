"""The calls before a write, and what an interrupted one leaves."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ..basics import BadInput, Call, Evidence, HouseRules, Verdict, grade_below
from .board_words import ASKED, QUESTIONS, question

SOURCE = "Loading practice: a computer that loses power in a write may be lost"


@dataclass(frozen=True)
class LoadBoard:
    """What is known before a write. None is *not answered yet*.

    Parameters
    ----------
    battery_v, battery_jumps_v : float or None
        Key on, loads off: its mean, and how far apart the readings lie that made it; the second is None where
        one meter was read once.
    loads_off, kept_awake, in_park, cable_seated : bool or None
    laptop : str or None
        ``"mains"``, ``"battery"`` (above half) or ``"low"``.
    saved : str or None
        ``"equal"`` (read twice, equal), ``"unreadable"`` or ``"no"``.
    identity : str or None
        ``"equal"``, ``"unknown"`` or ``"differs"``.
    matched : str or None
        ``"yes"``, ``"octane"`` where its octane is not stated, ``"held"`` where a check of the map holds,
        ``"figures"`` where injector flow and dead
        time were not set for this job, or ``"no"`` where it does not serve.
    newest : bool or None
        Whether the map is the newest of its line.
    firmware : str or None
        ``"current"``, ``"older"`` or ``"below"`` the map's minimum.
    """

    battery_v: float | None = None
    loads_off: bool | None = None
    kept_awake: bool | None = None
    in_park: bool | None = None
    laptop: str | None = None
    cable_seated: bool | None = None
    saved: str | None = None
    identity: str | None = None
    matched: str | None = None
    newest: bool | None = None
    firmware: str | None = None
    identity_detail: str = ""
    matched_detail: str = ""
    battery_jumps_v: float | None = None


_GO, _HOLD, _STOP = Verdict.go, Verdict.hold, Verdict.stop


def load_calls(board: LoadBoard, rules: HouseRules, kind: str = "") -> list[Call]:
    """Judge the board, row by row, in the words of this kind of vehicle. A row that is not answered is a
    stop: nothing is assumed before a write.
    """
    calls = [battery_call(board.battery_v, rules, board.battery_jumps_v)]
    for name in QUESTIONS:
        title, answers = question(name, kind)
        answer = getattr(board, name)
        if answer is not None and (not isinstance(answer, bool | str) or answer not in answers):
            raise BadInput(f"{title}: “{answer}” is no answer to this.", name)
        if answer is None:
            verdict, advice, shown = _STOP, "Answer this before writing.", "not answered"
        else:
            verdict, advice = answers[answer]
            shown = ("yes" if answer else "no") if isinstance(answer, bool) else str(answer)
        detail = {"identity": board.identity_detail, "matched": board.matched_detail}.get(name)
        if detail:
            advice = f"{advice} {detail}"
        protects = "computer" if verdict is _STOP else ""
        calls.append(
            Call(
                f"load.{name}",
                verdict=verdict,
                because=(Evidence("answer", shown),),
                do_next=advice,
                source=SOURCE,
                title=title,
                protects=protects,
                row=name,
            )
        )
    return calls


def asked_calls(
    answers: Mapping[str, str],
    rules: HouseRules,
    told: Mapping[str, str] | None = None,
    kind: str = "",
) -> list[Call]:
    """Judge the rows that were answered by a person, or read; those that were not are left out. `told`: what
    a link read, in words.

    Raises
    ------
    BadInput
        If an answer is none of its row's.
    """
    words = {"yes": True, "no": False}
    for row, answer in answers.items():
        if row not in ASKED or answer not in ASKED[row]:
            raise BadInput(f"“{answer}” is no answer of the board's row “{row}”.", row)
    board = LoadBoard(**{row: words.get(answer, answer) for row, answer in answers.items()})  # type: ignore[arg-type]
    known = {f"load.{row}": (told or {}).get(row, "") for row in answers}
    return [
        replace(call, do_next=f"{call.do_next} {known[call.rule]}".strip())
        for call in load_calls(board, rules, kind)
        if call.rule in known
    ]


#: Rest voltage and charge left, at 25 °C.
CHARGE = ((12.7, 100), (12.5, 90), (12.4, 75), (12.2, 50), (12.0, 25))


def charge(volts: float) -> int:
    """Charge at a rest voltage [%], the step at or below it; 0 below 12.0 V."""
    return next((share for limit, share in CHARGE if volts >= limit - 1e-9), 0)


#: Readings of a battery at rest lie within this; further apart a ground is open, whatever their mean [V].
JUMPS_V = 0.5


def battery_call(volts: float | None, rules: HouseRules, jumps: float | None = None) -> Call:
    """The battery before a write [V], key on, loads off; what was not measured stops it, and so does one that
    jumps by more than `JUMPS_V` while nothing is switched.
    """
    title = "Battery, key on, loads off"
    if volts is None:
        return Call(
            "load.battery",
            verdict=_STOP,
            because=(Evidence("answer", "not measured"),),
            do_next="Measure it.",
            source=SOURCE,
            title=title,
            protects="computer",
        )
    go, stop = rules["load.battery_go"], rules["load.battery_stop"]
    verdict = grade_below(volts, go, stop)
    advice = {
        _GO: "Enough.",
        _HOLD: "Fit a supply of at least 20 A, then measure again.",
        _STOP: "Charge first: a write must not brown out.",
    }[verdict]
    because = [
        Evidence("battery", round(volts, 2), go, unit="V"),
        Evidence("charge", charge(volts), unit="%"),
    ]
    if jumps is not None:
        because.append(Evidence("readings apart", round(jumps, 2), JUMPS_V, unit="V"))
        if not jumps <= JUMPS_V:
            verdict = _STOP
            advice = (
                "Key off now: the voltage jumps, a main ground is open, and a computer without it burns out."
                " Measure every ground, then read again."
            )
    return Call(
        "load.battery",
        verdict=verdict,
        because=tuple(because),
        do_next=advice,
        source=SOURCE,
        title=title,
        protects="computer" if verdict is _STOP else "",
    )


def interrupted_call(written: int, total: int) -> Call:
    """What a write that was cut leaves, and the ways back."""
    return Call(
        "load.interrupted",
        verdict=Verdict.stop,
        because=(
            Evidence("written", written, total, unit="bytes"),
            Evidence("map in the computer", "not whole"),
        ),
        do_next=(
            "Do not start the engine and leave the ignition as it is. The ways on stand in Load, first tried"
            " first; what fails twice is not tried a third time."
        ),
        source="ISO 14229: after an erase the computer stays in its loader until a whole map is proven",
        title="The write was cut: nothing is loaded",
        protects="computer",
    )


@dataclass(frozen=True)
class Named:
    """What one side says of vehicle and computer; empty where it says nothing."""

    vin: str = ""
    computer: str = ""
    calibration: str = ""


def identity_match(
    file: Named, job: Named, answered: Named | None, known: Sequence[str] = ()
) -> tuple[str, str]:
    """(answer for the board, sentence): whether file, job and computer speak of one vehicle.

    Parameters
    ----------
    file, job : Named
        The map's own identity, and what the job has on record.
    answered : Named or None
        As the computer answers it now; None where it was not read.
    known : sequence of str
        Calibrations that are expected in this computer: what this job put in.
    """
    if answered is None:
        return "unknown", "The computer's identity was not read."
    sides = (("the map", file), ("this job", job), ("the computer", answered))
    for what, part in (("VIN", "vin"), ("computer", "computer")):
        said = [(who, getattr(side, part)) for who, side in sides if getattr(side, part)]
        other = next(((who, value) for who, value in said if value != said[0][1]), None)
        if other:
            return "differs", f"{what}: {said[0][0]} says {said[0][1]}, {other[0]} says {other[1]}."
    if not answered.computer or not file.computer:
        return "unknown", "The computer did not say which it is."
    if not answered.vin or not job.vin:
        return "unknown", f"The VIN is empty in {'the computer' if job.vin else 'this job'}."
    if answered.calibration and answered.calibration not in (file.calibration, *known):
        return "unknown", (
            f"The computer answers calibration {answered.calibration}; the map is"
            f" {file.calibration or 'unnamed'}, and nobody here put that one in."
        )
    return "equal", f"Computer {answered.computer}, VIN {answered.vin}."

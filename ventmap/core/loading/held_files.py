"""Files of other programs: what a tool is about to write, and what it reads back, held against what is kept.

Nobody can look into them; whether a file is that file, its bytes say.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ..basics import Call, Evidence, Verdict

FileRole = Literal["stock image", "file to write", "identity", "project", "other"]
STOCK, TO_WRITE = "stock image", "file to write"
#: Roles with what each is kept for.
ROLES: dict[FileRole, str] = {
    "stock image": "the way back: what the computer held before",
    "file to write": "from the tuner or the device's maker, for this vehicle",
    "identity": "what the tool read of the computer",
    "project": "of a laptop suite: its maps, scales and notes",
    "other": "kept with the job",
}
_SOURCE = "A file is what its bytes are, whatever it is called"


@dataclass(frozen=True)
class HeldFile:
    """A file that is kept with a job.

    Parameters
    ----------
    name : str
    role : FileRole
    sha256 : str
    round : int
        Which round of the tuner's it is of; 0 for what the job began with.
    """

    name: str
    role: FileRole
    sha256: str
    round: int = 0


def picked_call(rule: str, name: str, sha256: str, kept: Sequence[HeldFile]) -> Call:
    """Whether the file that a tool is about to write is the one of this round.

    Parameters
    ----------
    kept : sequence of HeldFile
        Of this device, oldest first.

    Examples
    --------
    >>> one, two = HeldFile("a", "file to write", "1" * 64, 1), HeldFile("b", "file to write", "2" * 64, 2)
    >>> [picked_call("r", "x", digit * 64, [one, two]).verdict.value for digit in "213"]
    ['go', 'hold', 'stop']
    """
    meant = [file for file in kept if file.role == TO_WRITE]
    # Of one round the one that was kept last is meant.
    newest = max(reversed(meant), key=lambda file: file.round, default=None)
    same = next((file for file in reversed(kept) if file.sha256 == sha256), None)
    because = (
        Evidence("picked", f"{name}, {sha256[:12]}"),
        Evidence("kept for this round", f"{newest.name}, {newest.sha256[:12]}" if newest else "none"),
    )
    if newest is None:
        verdict, title = Verdict.hold, "No file to write is kept here"
        advice = "Keep the file first as it came from its tuner or maker, then hold this one against it."
    elif same is None:
        verdict, title = Verdict.stop, "This is another file"
        advice = "Do not write it: it is none of this job's. Take the one that is kept here."
    elif same.role == STOCK:
        verdict, title = Verdict.hold, "This is the stock image"
        advice = "Written back it is the way back; it is not this round's file."
    elif same.sha256 != newest.sha256:
        verdict, title = Verdict.hold, "This is an older file"
        advice = (
            f"It is of round {same.round}, the newest of round {newest.round}. Confirm, or take the newest."
        )
    else:
        verdict, title, advice = Verdict.go, "This is the file of this round", "Write it."
    return Call(
        rule,
        verdict=verdict,
        because=because,
        do_next=advice,
        source=_SOURCE,
        title=title,
        protects="computer" if verdict is Verdict.stop else "",
    )


def read_back_call(rule: str, name: str, sha256: str, written: HeldFile | None) -> Call:
    """Whether what a tool read back is what it wrote. One that is not is a hold: many tools put sums of their
    own into what they write, so that a person compares by the tool's own means.
    """
    because = (
        Evidence("read back", f"{name}, {sha256[:12]}"),
        Evidence("picked to write", f"{written.name}, {written.sha256[:12]}" if written else "none"),
    )
    if written is not None and written.sha256 == sha256:
        verdict, title, advice = Verdict.go, "Read back as picked", "It is in."
    elif written is None:
        verdict, title = Verdict.hold, "Nothing was picked to be written"
        advice = "Hold the file that was written against this job's first."
    else:
        verdict, title = Verdict.hold, "Read back otherwise than picked"
        advice = (
            "Some tools put sums of their own into what they write: compare by the tool's own means, and say"
            " so. Where it cannot, write the stock image back."
        )
    return Call(rule, verdict=verdict, because=because, do_next=advice, source=_SOURCE, title=title)

"""What is on a vehicle while something is measured on it: logs and runs are held against each other only
where it was the same.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

#: What a state is made of, in the words of a call.
PARTS = {"inside": "map or level", "kit": "kit", "injectors": "injectors", "fuel": "fuel"}


@dataclass(frozen=True)
class VehicleState:
    """What was in and on a vehicle.

    Parameters
    ----------
    inside : str
        Maps of every device with the level, position or preset that is set; *stock* before the kit.
    kit, injectors, fuel : str
        By name; empty where nothing of it is in.
    versions : tuple of int
        Numbers of the maps' records.
    """

    inside: str = ""
    kit: str = ""
    injectors: str = ""
    fuel: str = ""
    versions: tuple[int, ...] = ()

    @classmethod
    def of(cls, kept: Mapping[str, Any]) -> VehicleState | None:
        """From what was kept with a log or run; None where nothing was."""
        if not kept:
            return None
        return cls(**{**kept, "versions": tuple(kept.get("versions", ()))})

    def plain(self) -> dict[str, Any]:
        return asdict(self)

    @property
    def words(self) -> str:
        """What is on it in one line; empty where nothing is known."""
        return " · ".join(dict.fromkeys(filter(None, (self.inside, self.injectors, self.fuel))))

    def differs(self, other: VehicleState) -> tuple[str, ...]:
        """Names of what is another there, in words."""
        return tuple(
            word
            for name, word in PARTS.items()
            if getattr(self, name).strip() != getattr(other, name).strip()
        )


def one_state(states: Sequence[VehicleState | None]) -> tuple[str, ...]:
    """What is not the same in all of them that are known, in words."""
    known = [state for state in states if state is not None]
    return tuple(
        word for word in PARTS.values() if any(word in known[0].differs(state) for state in known[1:])
    )

"""What a mixture probe can read: in a two-stroke's exhaust it sees fresh air that ran straight through."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..basics import Vehicle
from .model import Log

#: What is said where a two-stroke's mixture is logged and nobody knows what its exhaust shows.
BLIND = (
    "by how much this two-stroke's exhaust reads leaner than it burns (on the shelf, from its maker's sheet),"
    " or the exhaust temperature of each cylinder"
)


#: Fresh air in a two-stroke's exhaust makes it read leaner by so much, least and most [fraction].
HIDES = (0.05, 0.25)


@dataclass(frozen=True)
class Probe:
    """How the exhaust of an engine reads against what burns in it.

    Parameters
    ----------
    two_stroke : bool
        Ports scavenge it with fresh charge; a rotor's do not.
    pipe_rpm : float, optional
        Speed at which its pipe keeps most of the charge in [rpm].
    lean_in_tune, lean_off_tune : float, optional
        By how much leaner its exhaust reads there, and far from there [fraction].
    """

    two_stroke: bool = False
    pipe_rpm: float | None = None
    lean_in_tune: float | None = None
    lean_off_tune: float | None = None

    @classmethod
    def of(cls, vehicle: Vehicle) -> Probe:
        """By the vehicle's sheet."""
        two_stroke = vehicle.stroke == 2 and not vehicle.rotary
        return cls(two_stroke, vehicle.pipe_rpm, vehicle.lean_in_tune, vehicle.lean_off_tune)

    @property
    def blind(self) -> bool:
        """Whether its mixture says nothing."""
        return self.two_stroke and None in (self.pipe_rpm, self.lean_in_tune, self.lean_off_tune)

    @property
    def extremes(self) -> tuple[Probe, Probe]:
        """What a blind one may be: least and most that a two-stroke's exhaust ever hides."""
        least, most = (Probe(True, 1.0, share, share) for share in HIDES)
        return least, most

    def burnt(self, log: Log) -> Log:
        """The log with the mixture that burnt; as it was read where the probe is blind.

        Notes
        -----
        Between the two figures of the sheet it runs straight over speed, to half of the pipe's speed and
        to half as much again.
        """
        names = [name for name in log.channels if name.startswith("lambda") and "target" not in name]
        if not self.two_stroke or not names:
            return log
        if (
            self.pipe_rpm is None
            or self.lean_in_tune is None
            or self.lean_off_tune is None
            or not log.has("rpm")
        ):
            return log
        off = np.minimum(np.abs(log.filled("rpm") / self.pipe_rpm - 1.0) / 0.5, 1.0)
        reads = 1.0 + self.lean_in_tune + (self.lean_off_tune - self.lean_in_tune) * off
        burnt = {name: np.asarray(log.channels[name] / reads, np.float32) for name in names}
        return replace(log, channels={**log.channels, **burnt})

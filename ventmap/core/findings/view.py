"""The view of a log that every detector shares: its windows, and where the engine works hard."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..basics import LOAD_THROTTLE, SEA_LEVEL_KPA, in_boost, standard_pressure, under_load
from ..logs import HELD_STEPS, Log, Samples, Window, closed_throttle, even, find_windows, runs, smooth
from .model import Finding, ReviewContext

#: A load that is shorter is the foot's own move; and the mixture needs so long to settle after it [s].
LOAD_S, SETTLE_S, PULL_SETTLE_S = 0.3, 0.5, 0.3
#: A diesel whose pedal is not logged works hard from here on, above the barometer [kPa].
DIESEL_LOAD_KPA = 30.0
#: A value that is older is not what the engine does now [s], or so many of its own steps.
FRESH_S = 0.2
#: A foot that moves faster is a tip-in [%/s].
FAST_FOOT = 15.0
#: A pedal's own noise: moves are told over so long [s] where it is below so much [%], else over so long [s].
QUICK_S, QUIET_PEDAL, SLOW_S = 0.2, 0.4, 0.6
#: The sensor follows a change of target by up to this long; a sample is judged against every target within
#: it.
SENSOR_DELAY_S = 0.6
#: After a fuel cut the sensor still reads air for so long [s].
AFTER_CUT_S = 0.3
#: At the limiter, where no pulse is logged: this near to it, and leaner than anything that burns well.
NEAR_LIMIT_RPM, CUT_LAMBDA = 150.0, 1.25
#: An engine that runs is fed for more of the time than this: a pulse that says otherwise is a dead channel.
LEAST_FED = 0.2


class View:
    """A log with its windows and the helpers that detectors share."""

    def __init__(self, log: Log, context: ReviewContext) -> None:
        #: As it was logged, each channel at its own times.
        self.raw = log = context.probe.burnt(log)
        log = even(log)
        self.log = log
        self.context = context
        self.rules = context.rules
        self.time = log.time_s
        self.rate = max(log.rate_hz, 1e-6)

    def __getitem__(self, name: str) -> Samples:
        return self.log.filled(name)

    def has(self, *names: str) -> bool:
        """Whether the log holds these channels, with anything in them: a column that a logger left empty is
        missing.
        """
        return self.log.has(*names) and not self._empty.intersection(names)

    @cached_property
    def _empty(self) -> frozenset[str]:
        return frozenset(name for name, values in self.log.channels.items() if not np.isfinite(values).any())

    @cached_property
    def windows(self) -> list[Window]:
        depth, back_s = self.rules["cut.depth"] / 100, self.rules["cut.back_s"]
        found = find_windows(self.log, depth, back_s, belt=self.context.belt)
        return sorted([*found, *self.loads], key=lambda window: (window.start, window.stop))

    @cached_property
    def warmth(self) -> str:
        """The channel that tells whether the engine is warm; empty where none is logged."""
        told = ("head_temp", "oil_temp", "coolant") if self.context.air_cooled else ("coolant",)
        return next((name for name in told if self.has(name)), "")

    @property
    def warm_at(self) -> float:
        """From which temperature of that channel it is warm [°C]."""
        if not self.context.air_cooled:
            return self.rules["warm.coolant"]
        return self.rules["warm.oil" if self.warmth == "oil_temp" else "warm.head"]

    @cached_property
    def foot(self) -> str:
        """The channel of the foot: pedal, else throttle; empty where neither is logged."""
        return next((name for name in ("pedal", "throttle") if self.has(name)), "")

    @cached_property
    def loads(self) -> list[Window]:
        """Stretches in which the engine works hard, pull or not."""
        if not self.has("rpm"):
            return []
        hard = np.zeros(len(self.log), bool)
        if self.has("map") and self.context.spark:
            hard |= under_load(self["map"], self.barometer)
        elif self.has("map") and not self.foot:
            # Nothing throttles a diesel: its manifold is at the barometer at idle.
            hard |= self["map"] >= self.barometer + DIESEL_LOAD_KPA
        if self.foot:
            hard |= self[self.foot] >= LOAD_THROTTLE
            hard &= ~closed_throttle(self.log)
        elif not self.has("map") and self.has("pulse"):
            fuel = self["pulse"] * self["rpm"]
            hard |= fuel >= float(np.nanmax(fuel)) * 2.0 / 3.0
        hard &= self.running
        found = []
        for start, stop in runs(hard, self.time, LOAD_S, 0.3):
            for a, b in self._whole(start, stop):
                found.append(Window("load", a, b, float(self.time[a]), float(self.time[b - 1])))
        return found

    def _whole(self, start: int, stop: int) -> list[tuple[int, int]]:
        """A stretch, parted where a recording ends."""
        cuts = [start, *(row for row in self.log.breaks if start < row < stop), stop]
        pairs = zip(cuts[:-1], cuts[1:], strict=True)
        return [(a, b) for a, b in pairs if b - a > 1 and self.time[b - 1] - self.time[a] >= LOAD_S]

    @cached_property
    def settled_load(self) -> NDArray[np.bool_]:
        """Rows under load away from cuts and from the foot's own going down and up, with fuel given."""
        mask = np.zeros(len(self.log), bool)
        for window in self.loads:
            mask[window.start + self.rows(SETTLE_S) : window.stop - self.rows(PULL_SETTLE_S) // 2] = True
        mask &= ~self.foot_moves
        for pull in self.pulls:
            settle = self.rows(PULL_SETTLE_S)
            mask[pull.start + settle : max(pull.start, pull.stop - settle // 2)] = True
        return mask & ~self.cut_rows & self.running & self.fuelled

    @cached_property
    def foot_moves(self) -> NDArray[np.bool_]:
        """Rows at part pedal in or just after a quick move of it: what wets the walls reads lean, then
        rich.
        """
        return self.after_a_move(FAST_FOOT)

    def after_a_move(self, faster: float) -> NDArray[np.bool_]:
        """The same, of moves that are faster than so much [%/s]."""
        if not self.foot:
            return np.zeros(len(self.log), bool)
        foot, noise = self[self.foot], self._pedal_noise
        apart = self.rows(QUICK_S if noise < QUIET_PEDAL else SLOW_S)
        if noise >= QUIET_PEDAL:
            foot = smooth(foot, apart)
            # Three times what the noise of two means, taken so far apart, can pretend.
            faster += 3.0 * noise * np.sqrt(2.0 / apart) / (apart / self.rate)
        moved = np.zeros(len(foot))
        moved[apart:] = np.abs(foot[apart:] - foot[:-apart]) / (apart / self.rate)
        near = np.convolve(moved > faster, np.ones(self.rows(SETTLE_S) + 1))[: len(foot)] > 0
        return np.asarray(near & (foot < LOAD_THROTTLE))

    @cached_property
    def _pedal_noise(self) -> float:
        """Scatter of the pedal's own samples [%], from its second differences: a foot that moves evenly has
        none.
        """
        real = self.raw.channels[self.foot]
        seconds = np.diff(real[np.isfinite(real)], 2)
        # A normal scatter's median size is 0.6745 of it, and a second difference's scatter is √6 times it.
        return float(np.median(np.abs(seconds)) / (0.6745 * np.sqrt(6.0))) if len(seconds) >= 20 else 0.0

    @cached_property
    def fuelled(self) -> NDArray[np.bool_]:
        """Rows in which fuel is given, and not just was cut: a cut at the limiter reads lean and is not."""
        fed = np.ones(len(self.log), bool)
        given = np.asarray(self["pulse"] > 0.05) if self.has("pulse") else fed
        running = self.running
        if self.has("pulse") and (given & running).sum() >= LEAST_FED * running.sum():
            fed = given
        elif self.has("lambda", "rpm") and self.context.rev_limit is not None:
            near = self["rpm"] >= self.context.rev_limit - NEAR_LIMIT_RPM
            fed = np.asarray(~(near & (self["lambda"] > CUT_LAMBDA)))
        if fed.all():
            return fed
        after = np.convolve(~fed, np.ones(self.rows(AFTER_CUT_S) + 1))[: len(fed)] > 0
        return np.asarray(~after)

    def of(self, *kinds: str) -> list[Window]:
        return [window for window in self.windows if window.kind in kinds]

    @property
    def pulls(self) -> list[Window]:
        return self.of("pull")

    def mask(self, *kinds: str) -> NDArray[np.bool_]:
        mask = np.zeros(len(self.log), bool)
        for window in self.of(*kinds):
            mask[window.start : window.stop] = True
        return mask

    def rows(self, seconds: float) -> int:
        return max(1, int(round(seconds * self.rate)))

    @cached_property
    def barometer(self) -> float:
        """Logged or key-on barometer [kPa], else that of the altitude; sea level where nobody knows
        either.
        """
        if self.has("baro"):
            return float(np.nanmedian(self["baro"]))
        if self.context.altitude_m is not None:
            return standard_pressure(self.context.altitude_m)
        return SEA_LEVEL_KPA

    @cached_property
    def running(self) -> NDArray[np.bool_]:
        """Rows with the engine turning by itself: a mixture read before or after is air."""
        return np.asarray(self["rpm"] > 400.0) if self.has("rpm") else np.ones(len(self.log), bool)

    def fresh(self, name: str) -> NDArray[np.bool_]:
        """Rows whose value was really read just then, and is not held over from long before."""
        real = np.isfinite(self.log.channels[name])
        if real.all():
            return np.ones(len(self.log), bool)
        last = np.maximum.accumulate(np.where(real, np.arange(len(real)), -1))
        rate = self.log.rate_of(name)
        age = self.time - self.time[np.maximum(last, 0)]
        return np.asarray((last >= 0) & (age <= max(FRESH_S, HELD_STEPS / max(rate, 1e-6))))

    @cached_property
    def target(self) -> Samples:
        """The mixture that is wanted; stoichiometric where nothing says."""
        return self["lambda_target"] if self.has("lambda_target") else np.ones(len(self.log))

    @cached_property
    def targets_near(self) -> tuple[Samples, Samples]:
        """Lowest and highest target of the last moments, so that a step of the target is no error."""
        rows, shift, target = 2 * self.rows(SENSOR_DELAY_S) + 1, self.rows(SENSOR_DELAY_S), self.target
        # Loaded when first needed: it would hold up every start.
        from scipy.ndimage import maximum_filter1d, minimum_filter1d

        low, high = minimum_filter1d(target, rows, origin=0), maximum_filter1d(target, rows, origin=0)
        low[:shift], high[:shift] = target[:shift].min(), target[:shift].max()
        return low, high

    @cached_property
    def boosted(self) -> NDArray[np.bool_]:
        """Rows above the barometer, by 5 kPa against the sensor's own noise."""
        if not self.has("map"):
            return np.zeros(len(self.log), bool)
        return in_boost(self["map"], self.barometer)

    @cached_property
    def cut_rows(self) -> NDArray[np.bool_]:
        """Rows in or within half a second of a traction cut or a shift: no judgement of mixture or boost
        there.
        """
        mask, near = np.zeros(len(self.log), bool), self.rows(0.5)
        for window in self.of("traction_cut", "shift"):
            mask[max(0, window.start - near) : window.stop + near] = True
        return mask

    def at(self, name: str, row: int) -> float:
        return round(float(self[name][row]), 3)


@dataclass(frozen=True)
class Detector:
    """A rule of the trade.

    Parameters
    ----------
    kind : str
    needs : tuple of tuple of str
        Channels, each a choice of any one.
    look : callable
        Gives what it finds.
    applies : callable
        Whether it is a rule of this kind of engine.
    lacks : callable
        What it lacks beside channels.
    partly : callable
        What it cannot tell of, although it looks at the rest.
    where : str
        The kind of window that it judges; empty where it judges the whole log.
    sees : tuple of tuple of str
        Channels that must really be seen there: of each choice those that are logged, one at least.
    judges : callable, optional
        The rows of those windows that it judges, and how long at a stretch it needs [s].
    """

    kind: str
    needs: tuple[tuple[str, ...], ...]
    look: Callable[[View], list[Finding]]
    applies: Callable[[ReviewContext], bool] = lambda context: True
    lacks: Callable[[View], str] = lambda view: ""
    partly: Callable[[View], str] = lambda view: ""
    where: str = ""
    sees: tuple[tuple[str, ...], ...] = ()
    judges: Callable[[View], tuple[NDArray[np.bool_], float]] | None = None

"""House rules: every threshold that a shop may change, with its default and the reason for it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from .errors import BadInput
from .quantities import parse_field, show


@dataclass(frozen=True)
class Rule:
    """A threshold or a school.

    Parameters
    ----------
    key : str
        ``"<area>.<name>"``.
    default : float or str
    unit : str
    text : str
        What it decides.
    reason : str
        Why the default is what it is.
    choices : tuple of str
        The schools, where the rule is a choice and not a number.
    """

    key: str
    default: float | str
    unit: str
    text: str
    reason: str
    choices: tuple[str, ...] = ()

    @property
    def quantity(self) -> str:
        """What the rule measures, where it may be typed in other units; empty for plain figures."""
        return _MEASURES.get(self.unit, "")

    def read(self, typed: str, unit: str | None = None) -> float | str:
        """A shop's own value, checked: one of the schools, or a figure in the rule's own unit.

        Parameters
        ----------
        typed : str
            With or without a unit.
        unit : str, optional
            The unit meant when none is typed; the rule's own where absent.

        Raises
        ------
        BadInput
            Naming the rule.

        Examples
        --------
        >>> RULES["safe.coolant"].read("104 °F"), RULES["correct.step"].read("8,5 %")
        (40.0, 8.5)
        """
        if self.choices:
            if typed not in self.choices:
                raise BadInput(f"Choose one of: {', '.join(self.choices)}.", self.key)
            return typed
        if self.quantity:
            value = round(show(parse_field(self.key, typed, self.quantity, unit or self.unit), self.quantity, self.unit), 9)
        else:
            try:
                value = float(typed.strip().removesuffix(self.unit).strip().replace(",", "."))
            except ValueError:
                raise BadInput(
                    f"“{typed}” is not a number. Type it in {self.unit or 'plain figures'}, like {self.default}.", self.key
                ) from None
        if not 0 <= value < 1e6:
            raise BadInput(f"{typed} is outside what this rule can be. Type a figure like {self.default}.", self.key)
        return value


#: Units of rules that people type in other units, and what they measure.
_MEASURES = {
    "kPa": "pressure", "°C": "temperature", "V": "voltage", "rpm": "engine_speed", "s": "time", "min": "time", "lambda": "mixture",
}  # fmt: skip


def _rules(*rows: tuple) -> dict[str, Rule]:
    return {row[0]: Rule(*row) for row in rows}


RULES: dict[str, Rule] = _rules(
    ("boost.fall_share", 5.0, "%", "boost falls in a pull", "a healthy drive or turbo holds within 5 % to the limiter"),
    ("boost.fall_kpa", 6.0, "kPa", "boost falls in a pull, at least", "less than this is the sensor's own noise"),
    ("boost.fall_rpm", 10.0, "%", "engine speed must go on rising by", "a fall at steady speed is something else"),
    ("boost.low_kpa", 8.0, "kPa", "boost levels off below target", "regulation itself stays within a few kPa"),
    ("cut.depth", 15.0, "%", "dip under full pedal that is a traction cut", "shallower dips are regulation"),
    ("cut.back_s", 1.5, "s", "a cut comes back within", "longer is a limp mode"),
    ("trim.hunt_swing", 8.0, "%", "short trim swings at idle, peak to peak", "normal switching stays within 3–5 %"),
    ("trim.hunt_cycles", 4.0, "", "swings that make hunting", "fewer may be a load coming on"),
    ("trim.offset", 8.0, "%", "long + short trim away from zero", "within 8 % the base is sound"),
    ("trim.banks", 6.0, "%", "banks differ", "one air path, one fuel: banks should agree"),
    ("lean.share", 4.0, "%", "lean of target under load", "sensor and fuel scatter stay below this"),
    ("lean.stop_share", 8.0, "%", "lean of target under load: stop", "heat and knock rise steeply from here"),
    ("lean.boost_lambda", 0.95, "lambda", "leanest in boost: stop", "boost needs the cooling of rich running"),
    ("lean.for_s", 0.3, "s", "lean or rich for at least", "shorter is the sensor's own delay"),
    ("rich.share", 6.0, "%", "rich of target under load", "costs power and washes bores"),
    ("rich.lambda", 0.78, "lambda", "richer than this for over a second", "near the limit of clean burning on petrol"),
    ("hole.share", 6.0, "%", "lean in one band of engine speed", "wider than a band it is an offset"),
    ("hole.band", 25.0, "%", "widest band that is a hole", "a calibration gap is local"),
    ("knock.hold", 3.0, "°", "knock retard in a pull", "one or two degrees are the strategy's own probing"),
    ("knock.stop", 6.0, "°", "knock retard in a pull: stop", "the engine is being hurt"),
    ("knock.same_rpm", 250.0, "rpm", "knock at the same speed in two pulls, within", "false knock scatters"),
    ("duty.hold", 85.0, "%", "injector duty", "flow is no longer proportional to pulse above"),
    ("duty.stop", 95.0, "%", "injector duty: stop", "the injector stays open; more fuel is not to be had"),
    ("fuel.drop", 10.0, "%", "fuel pressure below expected in a pull", "costs 5 % of flow"),
    ("fuel.for_s", 0.5, "s", "fuel pressure low for", "shorter is the regulator"),
    ("heat.between_k", 6.0, "K", "intake warmer at the start of the next pull", "3 % of power, and the knock margin"),
    ("heat.within_k", 15.0, "K", "intake warms within one pull", "the cooler is out of its depth"),
    ("heat.back_to_k", 3.0, "K", "cooled when back to within", "1.5 % of power, less than the drum's scatter"),
    ("battery.running", 13.0, "V", "battery with the engine running", "below it charging has failed"),
    ("battery.fall", 0.8, "V", "battery falls within a pull", "wiring or charging cannot follow"),
    ("warm.coolant", 75.0, "°C", "coolant for a pull or correction", "below it warm-up enrichment still acts"),
    ("hot.coolant", 108.0, "°C", "coolant high", "above normal control"),
    ("hot.stop", 115.0, "°C", "coolant high: stop", "close to boiling under pressure"),
    ("hot.rise", 3.0, "K/min", "coolant climbs at cruise", "cooling is losing"),
    ("idle.target", 850.0, "rpm", "idle target where none is logged", "usual for a warm petrol engine"),
    ("idle.high", 200.0, "rpm", "idle above target", "control cannot close far enough"),
    ("idle.unstable", 60.0, "rpm", "idle scatter, one standard deviation", "felt at the wheel above this"),
    ("idle.return_s", 2.5, "s", "from 3000 rpm back to idle + 300", "longer hangs"),
    ("misfire.counts", 5.0, "", "misfires counted in a log", "single ones happen"),
    ("egt.spread", 50.0, "K", "exhaust temperatures differ", "distribution is no longer even"),
    ("ethanol.jump", 10.0, "points", "ethanol content changes without a refuel", "a tank mixes slowly"),
    ("sampling.pull_hz", 5.0, "1/s", "slowest rate that carries a finding in a pull", "0.3 s needs at least two samples"),
    ("key_on.hold_kpa", 2.0, "kPa", "key-on manifold pressure off the barometer", "sensor tolerance"),
    ("key_on.stop_kpa", 5.0, "kPa", "key-on manifold pressure off the barometer: stop", "every fuel sum would be wrong"),
    ("key_on.soak_k", 5.0, "K", "temperatures after a cold soak", "thermistor tolerance"),
    ("start.idle", 100.0, "rpm", "first idle off its target", "control is not learned yet; more is air or fuel"),
    ("start.mixture", 10.0, "%", "fuel to add at first idle", "trims cannot carry more while it warms up"),
    ("start.charging_low", 13.2, "V", "charging with the engine running, least", "below it the battery is not charged"),
    ("start.charging_high", 14.8, "V", "charging with the engine running, most", "above it the regulator has failed"),
    ("start.pedal_low", 0.3, "V", "pedal or throttle track, least", "lower reads like a short to ground"),
    ("start.pedal_high", 4.7, "V", "pedal or throttle track, most", "higher reads like a short to its feed"),
    ("start.pedal_span", 2.0, "V", "pedal or throttle track, closed to open", "less is a linkage that does not travel"),
    ("start.pedal_agree", 5.0, "%", "twin tracks differ", "they watch each other; more is a limp mode"),
    ("load.battery_go", 12.5, "V", "battery before a write", "90 % charged"),
    ("load.battery_stop", 12.0, "V", "battery before a write: stop", "a computer that browns out is lost"),
    ("correct.samples", 10.0, "", "effective samples a cell needs", "the median of fewer is chance"),
    ("correct.spread", 5.0, "%", "widest spread of a cell's samples", "wider and the cell holds two states"),
    ("correct.step", 10.0, "%", "most a cell moves in one round", "a bad log must not spoil a map"),
    ("correct.lean_boost", 3.0, "%", "most a cell goes leaner in boost without a drum", "lean in boost hurts engines"),
    ("correct.explains", 70.0, "%", "variance that flow and dead time must explain", "else the cells are wrong, not the injector"),
    ("correct.within", 3.0, "%", "a cell is done within", "fuel and sensor scatter"),
    ("correct.done", 90.0, "%", "share of driven cells within, weighted by time", "the rest is seldom driven"),
    ("dyno.sigma", 2.0, "", "pooled standard deviations a gain must clear", "two in a hundred would be chance"),
    ("dyno.repeats", 3.0, "", "runs before and after", "scatter needs three"),
    ("dyno.intake_k", 6.0, "K", "intake air of compared runs apart", "2 % of the air, and the knock margin"),
    ("dyno.tyre_kpa", 15.0, "kPa", "tyre pressure of compared runs apart", "the tyre's own loss on the drum moves with it"),
    ("dyno.loss_low", 12.0, "%", "lost between crank and wheels, least", "a light two-wheel drive"),
    ("dyno.loss_high", 20.0, "%", "lost between crank and wheels, most", "all-wheel drive, cold oil"),
    ("plan.duty", 85.0, "%", "duty to plan injectors for", "leaves room for a cold day and a weak pump"),
    ("plan.bsfc_natural", 300.0, "g/kWh", "consumption to plan with, naturally aspirated", "petrol at full load"),
    ("plan.bsfc_boosted", 365.0, "g/kWh", "consumption to plan with, boosted", "petrol at full load; 330–400 is seen"),
    ("intake.battery", 12.4, "V", "battery at rest", "75 % charged: enough for tests and a write with a supply"),
    ("intake.power_rise", 20.0, "%", "rise in power that asks for a compression test", "a weak cylinder fails first under more load"),
    ("intake.leak_down", 20.0, "%", "air a cylinder may lose in a leak-down test", "a sound warm engine stays well below; the maker's figure wins"),
    ("plan.labour", 60.0, "money/h", "labour", "the sample shop's rate; set your own"),
    ("plan.pump_reserve", 15.0, "%", "reserve a pump must have", "age, a warm tank and a weak battery"),
    ("plan.spread_good", 2.0, "%", "flow spread of an injector set: good", "trims do not see it"),
    ("plan.spread_usable", 4.0, "%", "flow spread of an injector set: usable", "above it one cylinder runs lean"),
    ("plan.wire_drop", 3.0, "%", "voltage lost in a wire, out and back", "a pump loses flow with its voltage"),
    ("plan.bend_factor", 4.0, "× outer diameter", "least bend radius of a feed hose", "tighter and it closes"),
    ("plan.hose_slack", 5.0, "%", "slack of a feed hose", "the engine moves on its mounts"),
    ("plan.fuse", 1.25, "× current", "fuse at least", "a fuse run at its rating opens in a hot bay"),
    ("fit.wrench_low", 20.0, "%", "of its range where a torque wrench is true", "below it the click comes where it likes"),
    ("fit.can", 15.0, "%", "CAN termination off 60 Ω", "terminators and a meter are a few percent off"),
    ("fit.ground", 0.05, "V", "voltage drop of a ground at rest", "more moves every sensor"),
    ("fit.ground_cranking", 0.2, "V", "voltage drop of a ground while cranking", "the starter pulls hundreds of amperes"),
    ("fit.torque_school", "maker's figure", "", "torque without a wrench", "the maker's figure wins; feel differs from hand to hand",
     ("maker's figure", "snug allowed")),
    ("safe.fuel_school", "run dry", "", "how fuel pressure is relieved", "no spray and no special tool",
     ("run dry", "service valve", "crack the union")),
    ("safe.power_school", "battery off", "", "how power goes down", "certain; the modules' memory is lost",
     ("battery off", "modules asleep")),
    ("safe.cool_min", 20.0, "min", "wait for the engine to cool", "a first guess: the reading decides"),
    ("safe.crank_tries", 2.0, "", "cranks until it no longer fires, at least", "one leaves pressure behind a check valve"),
    ("safe.rail_left", 30.0, "kPa", "pressure left in the rail before a union is opened", "a weep, not a spray"),
    ("safe.coolant", 40.0, "°C", "engine cool enough to open fuel", "no part near the fuel can light it or burn skin"),
)  # fmt: skip
#: First part of a rule's key -> the heading it stands under.
AREAS = {
    "intake": "Intake", "plan": "Plan", "safe": "Make safe", "fit": "Fit", "load": "Load", "key_on": "First start", "start": "First start", "boost": "Log: boost",
    "cut": "Log: traction", "trim": "Log: trims", "lean": "Log: mixture", "rich": "Log: mixture", "hole": "Log: mixture", "knock": "Log: knock",
    "duty": "Log: injectors", "fuel": "Log: fuel pressure", "heat": "Log: heat", "battery": "Log: battery", "warm": "Log: heat", "hot": "Log: heat",
    "idle": "Log: idle", "misfire": "Log: misfire", "egt": "Log: heat", "ethanol": "Log: fuel", "sampling": "Log: sampling", "correct": "Correct",
    "dyno": "Prove",
}  # fmt: skip


@dataclass(frozen=True)
class HouseRules:
    """The rules a job is judged by: the defaults with a shop's own values over them."""

    changed: Mapping[str, float | str] = field(default_factory=dict)

    def __getitem__(self, key: str) -> float:
        """A threshold as a number."""
        value = self.changed.get(key, _rule(key).default)
        return float(value)

    def school(self, key: str) -> str:
        """A choice between schools."""
        return str(self.changed.get(key, _rule(key).default))


def _rule(key: str) -> Rule:
    if key not in RULES:
        raise BadInput(f"There is no house rule “{key}”.", key)
    return RULES[key]

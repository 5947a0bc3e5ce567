"""Setting a device by hand: one screen a press, what it must show, and all read again after a power-off."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ..basics import Call, Evidence, Verdict
from ..forms import Calibration
from ..vehicle import entry_steps

SOURCE = "What was sent is not always what is in: each entry is read back, and again after the power was off"
#: The screen between entering and reading again.
POWER = "power"
#: So often is one screen entered again before it stops: a device that will not keep a figure is not trusted.
TRIES = 2


@dataclass(frozen=True)
class Screen:
    """One screen: what is done, and what the dial, lamp, display or tool must show after it.

    Parameters
    ----------
    key : str
        Its own among the screens of one map.
    setting : str
        What it sets or reads.
    press : str
    shows : str
        Empty where nothing is shown: it is confirmed.
    before : str
        What must hold first, said on the screen before anything is pressed.
    again : bool
        Whether it is read a second time, after the power was off.
    unit : str
        Of what is shown; it need not be typed.
    wait_s : float
        How long it takes before the next screen [s]: the device's own ignition-off time.
    fixed : bool
        What it reads cannot be set: another VIN or another label is a stop at once.
    """

    key: str
    setting: str
    press: str
    shows: str
    before: str = ""
    again: bool = False
    unit: str = ""
    fixed: bool = False
    wait_s: float = 0.0


@dataclass(frozen=True)
class Shown:
    """What somebody saw on a screen."""

    key: str
    shown: str


def screens_of(
    calibration: Calibration, *, off_s: float = 0.0, vin: str = "", shows_on: str = "", set_by: str = ""
) -> list[Screen]:
    """The screens of a map, in the order in which they are gone through; empty where its form has none.

    Parameters
    ----------
    calibration : Calibration
    off_s : float
        How long the power is off before it is read again [s].
    vin : str
        Of the vehicle, for a computer that answers it.
    shows_on, set_by : str
        What shows what is set, and by what it is set, from the sheet of the device; empty is *not known*.
    """
    makers = {
        "entries": lambda: _entries(calibration),
        "level": lambda: _level(calibration, shows_on, set_by),
        "trim": lambda: _trim(calibration, shows_on, set_by),
        "blend": lambda: _blend(calibration, shows_on, set_by),
        "driver": lambda: _driver(calibration),
        "options": lambda: _options(calibration, vin),
    }
    make = makers.get(calibration.form)
    first = make() if make else []
    if not first or calibration.form == "driver":
        return first  # a label reads the same with the power off
    wait = f" for {off_s:g} s" if off_s else ""
    power = Screen(POWER, "power", f"Ignition off{wait}, then on again", "", "Engine off.", wait_s=off_s)
    again = [
        replace(screen, key=f"{screen.key}.again", press=f"Read it again: {screen.setting}", again=True)
        for screen in first
        if screen.shows and not screen.key.endswith(".whole")
    ]
    return [*first, power, *again]


def _entries(calibration: Calibration) -> list[Screen]:
    """By the cruise buttons, a setting at a time."""
    screens = []
    for row in calibration.lists["entries"]:
        number, name, before = f"{row['number']:g}", str(row["name"]), str(row.get("before", ""))
        screens.append(Screen(f"{number}.whole", name, f"Go to setting {number}", number, before))
        steps = entry_steps(
            float(row["wanted"]),
            str(row["coding"]),
            on_shows=float(row.get("on_shows", 1)),
            off_shows=float(row.get("off_shows", 0)),
        )
        for count, step in enumerate(steps, 1):
            part = name if len(steps) == 1 else f"{name}, {'whole' if count == 1 else 'tenths'}"
            screens.append(
                Screen(f"{number}.{count}", part, step.press[:1].upper() + step.press[1:], step.shows)
            )
    return screens


#: Of a device on which nothing shows what is set: its label or its maker's program is read.
NOTHING = "nothing"


def _by(set_by: str) -> str:
    return f", by {set_by}" if set_by else ""


def _level(calibration: Calibration, shows_on: str, set_by: str) -> list[Screen]:
    """By what its sheet says that it is set by; each mode by what shows it."""
    level, delay = calibration.scalars["level"], calibration.scalars["warm_up_s"]
    shows = f"{level:g}" if level else "off"
    screens = [
        Screen("level", "power level", f"Set level {shows}{_by(set_by)}", shows, "Key on, engine off."),
        Screen(
            "warm_up", "warm-up delay", f"Set the delay to {delay:g} s{_by(set_by)}", f"{delay:g}", unit="s"
        ),
    ]
    for row in calibration.lists.get("modes", ()):
        lamp = str(row.get("lamp", ""))
        if lamp and shows_on != NOTHING:
            mode = str(row["mode"])
            told = f"{shows_on or 'what shows'} in mode {mode}"
            screens.append(Screen(f"mode {mode}", told, f"Choose mode {mode}", lamp))
    return screens


def _trim(calibration: Calibration, shows_on: str, set_by: str) -> list[Screen]:
    """Maps into the positions that may be written, then each position by what shows it."""
    rows = calibration.lists["positions"]
    writable = [row for row in rows if not row["fixed"]]
    screens = [
        Screen(
            f"write {row['number']:g}",
            f"map of position {row['number']:g}",
            f"Write the map of position {row['number']:g}, {row['name']}{_by(set_by)}",
            f"{row['number']:g}",
            "Standing still, engine off.",
        )
        for row in writable
    ]
    for row in rows:
        if row.get("lamp") and shows_on != NOTHING:
            number = f"{row['number']:g}"
            name = f"{shows_on or 'what shows'} at position {number}, {row['name']}"
            screens.append(Screen(f"lamp {number}", name, f"Choose position {number}", str(row["lamp"])))
    return screens


def _blend(calibration: Calibration, shows_on: str, set_by: str) -> list[Screen]:
    """The preset, by what shows it."""
    wanted = calibration.scalars.get("preset")
    return [
        Screen(
            "preset",
            "preset",
            f"Choose preset {row['number']:g}, {row['name']}{_by(set_by)}",
            str((row.get("lamp") if shows_on != NOTHING else "") or f"{row['number']:g}"),
            "Paired by the serial on its label; key on, engine off.",
        )
        for row in calibration.lists["presets"]
        if row["number"] == wanted
    ]


def _driver(calibration: Calibration) -> list[Screen]:
    """A box that came loaded, by its label."""
    flow = calibration.scalars["injector_flow"]
    name = "injector size on its label"
    screens = [
        Screen("size", name, "Read the label", f"{flow:g}", "Still unplugged.", unit="cm³/min", fixed=True)
    ]
    if calibration.set is not None:
        press = "Read the label, and compare it with engine and gearbox"
        screens.append(Screen("set", "set on its label", press, calibration.set.name, fixed=True))
    return screens


def _options(calibration: Calibration, vin: str) -> list[Screen]:
    """In the tool's own list; the identity is read back with them."""
    screens = []
    if vin:
        screens.append(
            Screen(
                "vin", "VIN as it is read back", "Connect, and read the identity", vin, "Key on.", fixed=True
            )
        )
    for row in calibration.lists["options"]:
        if row["wanted"] == row["stock"]:
            continue
        shows, unit = f"{row['wanted']:g}", str(row.get("unit", ""))
        press = f"Set {row['name']} from {row['stock']:g} to {shows} {unit}".strip()
        screens.append(Screen(str(row["key"]), str(row["name"]), press, shows, unit=unit))
    return screens


def same_reading(shown: str, screen: Screen) -> bool:
    """Whether what was seen is what must show: figures as figures, with or without their unit; words without
    regard to case.
    """
    one, other = (_plain(text, screen.unit) for text in (shown, screen.shows))
    try:
        return float(one) == float(other)
    except ValueError:
        return one == other


def _plain(text: str, unit: str) -> str:
    """Without its unit, and with a decimal point."""
    bare = text.strip().casefold()
    return bare.removesuffix(unit.casefold()).strip().replace(",", ".") if unit else bare.replace(",", ".")


@dataclass(frozen=True)
class Entering:
    """How far it is: the state of each screen, the next one, and what weighs on it."""

    states: tuple[str, ...]
    """``"right"``, ``"wrong"`` or ``"open"``, a screen each."""
    next: Screen | None
    calls: tuple[Call, ...]

    @property
    def complete(self) -> bool:
        return self.next is None and not self.calls


def enter(rule: str, screens: Sequence[Screen], seen: Sequence[Shown]) -> Entering:
    """Judge what was seen so far, in the order in which it was seen; the newest of a screen stands.

    A figure that reads back wrong holds, and stops when it is wrong again; one that is wrong after the power
    was off was not kept, and everything that follows the power is read anew once it is entered again.
    """
    newest: dict[str, str] = {}
    wrongs: dict[str, int] = {}
    by_key: Mapping[str, Screen] = {screen.key: screen for screen in screens}
    for one in seen:
        screen = by_key.get(one.key)
        if screen is None:
            continue
        newest[one.key] = one.shown
        if screen.shows and not same_reading(one.shown, screen):
            wrongs[one.key] = wrongs.get(one.key, 0) + 1
        elif not screen.again and screen.key != POWER:
            # Entered again after the power was off: it has to survive another one.
            for later in screens:
                if later.again or later.key == POWER:
                    newest.pop(later.key, None)
    states, calls = [], []
    for screen in screens:
        shown = newest.get(screen.key)
        right = shown is not None and (not screen.shows or same_reading(shown, screen))
        states.append("open" if shown is None else "right" if right else "wrong")
        if shown is not None and not right:
            calls.append(_wrong(f"{rule}#{screen.key}", screen, shown, wrongs[screen.key]))
    first = next((s for s, state in zip(screens, states, strict=True) if state != "right"), None)
    if first is not None and first.again and first.key in newest:
        # It was not kept: back to where it is entered.
        first = by_key[first.key.removesuffix(".again")]
    return Entering(tuple(states), first, tuple(calls))


def _wrong(rule: str, screen: Screen, shown: str, times: int) -> Call:
    stop = screen.fixed or times >= TRIES
    if screen.fixed:
        advice = "Do not plug it in or write to it: it is of another vehicle, another size or another set."
    elif stop:
        advice = "Stop here: set every entry to its default, take the power off, and ask the device's maker."
    elif screen.again:
        advice = "It was not kept: enter it again, hold longer to keep, then power off and read all again."
    else:
        advice = "Enter it again; do not go on to the next."
    return Call(
        rule,
        verdict=Verdict.stop if stop else Verdict.hold,
        because=(
            Evidence(screen.setting, shown or "nothing", screen.shows, screen.unit),
            Evidence("wrong", times, TRIES),
        ),
        do_next=advice,
        source=SOURCE,
        title=f"Read back wrong: {screen.setting}",
        protects="computer" if stop else "",
    )


def told_of(screens: Sequence[Screen], seen: Sequence[Shown]) -> str:
    """What is in now, in words: each setting with what it showed, when all is right."""
    newest = {one.key: one.shown for one in seen}
    kept = [screen for screen in screens if screen.again]
    read = [f"{s.setting} {newest.get(s.key, '')} {s.unit}".strip() for s in kept or screens]
    return "; ".join(read) + ("; read again after the power was off" if kept else "")

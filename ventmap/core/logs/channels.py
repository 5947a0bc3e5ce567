"""The trade's channels, the many names they go by, and the units they arrive in."""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass

GAUGE = "gauge"


@dataclass(frozen=True)
class Channel:
    """A canonical channel: its label, quantity (see `quantities`), unit on file and the range physics allows."""

    name: str
    label: str
    quantity: str
    unit: str
    low: float
    high: float
    pattern: str


_TARGET = r"(?:target|desired|commanded|command|cmd|setpoint|set|request(?:ed)?|soll|spec(?:ified)?)"
_MAP = r"(?:(?:intake )?manifold(?: absolute)?(?: air)?(?: pressure| press)?|map|boost(?: pressure| press)?|charge pressure|ladedruck|saugrohrdruck|inlet pressure)"
_MIX = r"(?:lambda|afr|air fuel(?: ratio)?|a f(?: ratio)?|wideband|wb|mixture|equivalence ratio)"
_BANK = r"(?: ?(?:b|bank) ?{n})"


def _trim(kind: str, long_name: str, bank: int) -> str:
    tail = rf"(?: ?(?:b|bank)? ?{bank})"
    if bank == 1:
        tail += "?"
    return (
        rf"{kind}{tail}|(?:fuel )?(?:trim )?{long_name}(?: ?term)?(?: fuel)?(?: trim)?{tail}"
        rf"|fuel trim {long_name}(?: term)?{tail}|fuel correction {long_name}(?: term)?{tail}"
    )


_LIST = (
    ("rpm", "Engine speed", "engine_speed", "rpm", 0, 20000,
     r"(?:engine |eng |motor)?(?:rpm|revs?|revolutions)|(?:engine|eng|crank) (?:speed|spd|revs?)|motordrehzahl|drehzahl"),
    ("pedal", "Pedal", "fraction", "%", -2, 105,
     r"app(?: ?[12])?|(?:accel(?:erator)?|gas)(?: pedal)?(?: (?:position|pos|angle))?|pedal(?: (?:position|pos))?|fahrpedal|driver demand"),
    ("throttle", "Throttle", "fraction", "%", -2, 105,
     r"tps(?: ?1)?|tp|throttle(?: body| plate| blade)?(?: (?:angle|position|pos|opening))?|drosselklappe(?:nwinkel)?"),
    ("map_target", "Manifold target", "pressure", "kPa", 0, 600, rf"{_MAP} {_TARGET}|{_TARGET} {_MAP}"),
    ("map", "Manifold pressure", "pressure", "kPa", 3, 600, _MAP),
    ("baro", "Barometer", "pressure", "kPa", 50, 110,
     r"baro(?:meter|metric)?(?: (?:pressure|press))?|(?:ambient|atmospheric|umgebungs)(?: ?(?:pressure|druck))"),
    ("iat", "Intake air", "temperature", "°C", -40, 150,
     r"iat|act|(?:intake|inlet|manifold|charge|air)(?: air)?(?: charge)?(?: temp(?:erature)?)|ansaugluft(?:temp(?:eratur)?)?|charge temp"),
    ("coolant", "Coolant", "temperature", "°C", -40, 150,
     r"ect|clt|coolant(?: temp(?:erature)?)?|engine(?: coolant)? temp(?:erature)?|water temp(?:erature)?|k.hlmittel(?:temp(?:eratur)?)?"),
    ("lambda_target", "Mixture target", "mixture", "lambda", 0.5, 2.0, rf"{_MIX} {_TARGET}|{_TARGET} {_MIX}"),
    ("lambda_2", "Mixture, bank 2", "mixture", "lambda", 0.4, 3.0, rf"{_MIX}(?: sensor| measured| actual)?(?: ?(?:b|bank))? ?2"),
    ("lambda", "Mixture", "mixture", "lambda", 0.4, 3.0, rf"{_MIX}(?: sensor| measured| actual)?(?:(?: ?(?:b|bank))? ?1)?"),
    ("stft_2", "Short trim, bank 2", "fraction", "%", -60, 60, _trim("stft", "short", 2)),
    ("stft_1", "Short trim", "fraction", "%", -60, 60, _trim("stft", "short", 1)),
    ("ltft_2", "Long trim, bank 2", "fraction", "%", -60, 60, _trim("ltft", "long", 2)),
    ("ltft_1", "Long trim", "fraction", "%", -60, 60, _trim("ltft", "long", 1)),
    ("spark", "Spark", "spark", "°", -40, 70,
     r"(?:ignition|ign|spark)(?: (?:timing|angle|advance|adv))|timing(?: advance)?|advance|z.ndwinkel"),
    ("knock", "Knock retard", "spark", "°", -1, 40, r"knock (?:retard|ret|correction|pull)|kr|(?:spark|timing) (?:retard|pull)(?: knock)?|klopfr.cknahme"),
    ("pulse", "Injector pulse", "pulse", "ms", 0, 60,
     r"ipw|(?:inj(?:ector)?|fuel) ?(?:pw|pulse ?(?:width)?|(?:on|open) ?time|duration)(?: ?1)?|pulse ?width|pw|einspritzzeit"),
    ("duty", "Injector duty", "fraction", "%", 0, 130, r"idc|inj(?:ector)? ?(?:duty|dc)(?: ?cycle)?|duty ?cycle"),
    ("battery", "Battery", "voltage", "V", 0, 32, r"(?:batt(?:ery)?|system|supply|ecu)(?: (?:voltage|volts?|v))?|vbatt?|voltage|volts|batteriespannung"),
    ("speed", "Vehicle speed", "speed", "km/h", 0, 450, r"(?:vehicle|road|gps)(?: (?:speed|spd))|vss|mph|kmh|kph|speed|geschwindigkeit"),
    ("feed", "Feed pressure", "pressure", "kPa", 0, 1500, r"(?:feed|fuel feed|low side|low pressure)(?: fuel)?(?: ?(?:pressure|press))|lpfp"),
    ("rail", "Rail pressure", "pressure", "kPa", 0, 350000, r"frp|(?:fuel )?rail(?: fuel)?(?: ?(?:pressure|press))|fuel (?:pressure|press)|raildruck|kraftstoffdruck|fuel rail"),
    ("rear_o2_1", "Rear sensor", "voltage", "V", -0.1, 1.3, r"(?:rear|post ?cat|secondary) ?o2(?: (?:sensor))?(?: ?b(?:ank)? ?1)?|o2s? ?s?2 b1|b1 ?s2|o2 b1 ?s2|o2s2 b1"),
    ("rear_o2_2", "Rear sensor, bank 2", "voltage", "V", -0.1, 1.3, r"(?:rear|post ?cat|secondary) ?o2(?: (?:sensor))? ?b(?:ank)? ?2|o2s? ?s?2 b2|b2 ?s2|o2s2 b2"),
    ("ethanol", "Ethanol", "fraction", "%", -1, 130, r"eth(?:anol)?(?: (?:content|percent|fraction|pct))?|flex(?: fuel)?(?: (?:content|percent))?|e content|alcohol(?: content)?"),
    ("idle_target", "Idle target", "engine_speed", "rpm", 300, 3000, rf"idle(?: speed| rpm)? {_TARGET}|{_TARGET} idle(?: speed| rpm)?"),
    ("wastegate", "Wastegate", "fraction", "%", -5, 110, r"(?:wastegate|wg)(?: (?:duty|dc|position|pos))?(?: cycle)?|boost (?:duty|solenoid)(?: cycle)?"),
    ("misfire", "Misfire count", "", "", 0, 1e6, r"mis ?fires?(?: ?(?:count(?:er|s)?|total))?"),
    ("oil_pressure", "Oil pressure", "pressure", "kPa", -10, 1500, r"oil (?:pressure|press)"),
    ("oil_temp", "Oil", "temperature", "°C", -40, 180, r"oil temp(?:erature)?|eot"),
    ("ambient", "Ambient", "temperature", "°C", -50, 60, r"(?:ambient|outside)(?: air)? temp(?:erature)?"),
    ("gear", "Gear", "", "", -1, 12, r"gear|gang"),
    ("slip", "Wheel slip", "fraction", "%", -100, 300, r"(?:wheel )?slip"),
    ("front_speed", "Front wheel speed", "speed", "km/h", 0, 450, r"(?:front|undriven)(?: wheel)? speed|wheel speed f[lr]?"),
    ("rear_speed", "Rear wheel speed", "speed", "km/h", 0, 450, r"(?:rear|driven)(?: wheel)? speed|wheel speed r[lr]?"),
    *((f"egt_{n}", f"Exhaust {n}", "temperature", "°C", -40, 1200, rf"(?:egt|exhaust(?: gas)? temp(?:erature)?)(?: ?(?:cyl(?:inder)?)?) ?{n}") for n in range(1, 9)),
)  # fmt: skip
CHANNELS: dict[str, Channel] = {entry[0]: Channel(*entry) for entry in _LIST}
_COMPILED = [(name, re.compile(channel.pattern)) for name, channel in CHANNELS.items()]
TIME_PATTERN = re.compile(
    r"(?:log |elapsed |session |record )?(?:time|clock|zeit|uhrzeit)(?: ?stamp)?|timestamp|elapsed|offset|seconds?|secs?|t|date ?time|datetime|zeitstempel"
)
#: unit spelling on file -> (quantity, unit that `quantities` knows)
UNITS: dict[str, tuple[str, str]] = {
    "kpa": ("pressure", "kPa"), "kpaa": ("pressure", "kPa"), "psi": ("pressure", "psi"), "psia": ("pressure", "psi"),
    "psig": ("pressure", "psi"), "kpag": ("pressure", "kPa"), "barg": ("pressure", "bar"), "bar": ("pressure", "bar"), "mbar": ("pressure", "mbar"), "hpa": ("pressure", "hPa"),
    "mpa": ("pressure", "MPa"), "inhg": ("pressure", "inHg"), "c": ("temperature", "°C"), "degc": ("temperature", "°C"),
    "f": ("temperature", "°F"), "degf": ("temperature", "°F"), "k": ("temperature", "kelvin"), "rpm": ("engine_speed", "rpm"),
    "1/min": ("engine_speed", "rpm"), "u/min": ("engine_speed", "rpm"), "min-1": ("engine_speed", "rpm"),
    "%": ("fraction", "%"), "pct": ("fraction", "%"), "percent": ("fraction", "%"), "ms": ("pulse", "ms"),
    "us": ("pulse", "µs"), "µs": ("pulse", "µs"), "s": ("time", "s"), "sec": ("time", "s"), "min": ("time", "min"),
    "v": ("voltage", "V"), "volt": ("voltage", "V"), "volts": ("voltage", "V"), "mv": ("voltage", "mV"),
    "km/h": ("speed", "km/h"), "kmh": ("speed", "km/h"), "kph": ("speed", "km/h"), "mph": ("speed", "mph"),
    "m/s": ("speed", "m/s"), "deg": ("spark", "°"), "°": ("spark", "°"), "°kw": ("spark", "°"), "degkw": ("spark", "°"),
    "degca": ("spark", "°"), "°ca": ("spark", "°"), "btdc": ("spark", "°"), "°btdc": ("spark", "°"), "afr": ("mixture", "AFR"),
    "lambda": ("mixture", "lambda"), "λ": ("mixture", "lambda"), "hh:mm:ss": ("time", "clock"),
    "°c": ("temperature", "°C"), "°f": ("temperature", "°F"),
}  # fmt: skip
#: Unit words that may stand bare at the end of a column's name, as in “Boost psi” or “time_ms”.
_BARE = {"kpa", "kpag", "psi", "psig", "psia", "barg", "bar", "mbar", "hpa", "inhg", "c", "f", "degc", "degf", "ms", "us", "s", "sec", "v",
         "mv", "%", "pct", "kmh", "kph", "mph", "deg", "rpm"}  # fmt: skip


@dataclass(frozen=True)
class Heading:
    """A column's name taken apart: words, unit as spelled, and whether it says gauge pressure."""

    raw: str
    words: str
    unit: str
    gauge: bool


def clean_unit(text: str) -> str:
    """A unit as a key of `UNITS`, whatever its case, brackets and degree signs."""
    text = unicodedata.normalize("NFKC", text).strip().strip("[]()").strip().lower()
    return text.replace("º", "°").replace("\ufffd", "°").replace(" ", "").replace("μ", "µ")


def heading(raw: str, unit_row: str = "") -> Heading:
    """Take a column's name apart."""
    text = unicodedata.normalize("NFKC", raw).strip().strip('"')
    unit = ""
    bracket = re.search(r"[\[(]([^\])]*)[\])]", text)
    if bracket:
        unit, text = clean_unit(bracket[1]), (text[: bracket.start()] + " " + text[bracket.end() :]).strip()
        if unit not in UNITS and unit not in ("-", ""):
            text, unit = f"{text} {bracket[1]}", ""  # brackets that hold a word, as in “trim (bank 1)”
    # Units keep their letters together where run-on names come apart.
    whole = re.sub(r"\b(?:[kKhHmM]Pag?|mBar|in[hH][gG]|deg[CF])\b", lambda unit: unit[0].lower(), text)
    spaced = re.sub(r"(?<=[a-z])(?=[A-Z])", " ", whole)
    words = re.sub(r"[^0-9a-zäöüß%]+", " ", spaced.lower()).strip().split()
    gauge = any(word in ("boost", "gauge", "psig", "kpag", "barg", "rel", "relative", "ladedruck") for word in words) or unit in (
        "psig",
        "kpag",
        "barg",
    )
    words = [word for word in words if word not in ("gauge", "relative")]
    if not unit and unit_row:
        unit = clean_unit(unit_row)
    if not unit and len(words) > 1 and words[-1] in _BARE:
        unit = words.pop()
    elif words and words[-1] in _BARE and len(words) > 1 and clean_unit(words[-1]) == unit:
        words.pop()
    return Heading(raw, " ".join(words), unit, gauge)


def match(head: Heading) -> str | None:
    """Canonical channel of a heading, or None. A unit of another quantity rules a name out."""
    quantity = UNITS.get(head.unit, ("", ""))[0]
    for name, pattern in _COMPILED:
        if pattern.fullmatch(head.words) and _unit_fits(CHANNELS[name].quantity, quantity):
            return name
    if head.words == "speed" and quantity == "engine_speed":
        return "rpm"
    return None


def _unit_fits(wanted: str, given: str) -> bool:
    # Throttle and pedal may be logged in degrees of angle or volts; those are not taken for percent.
    return not given or given == wanted or {wanted, given} == {"time", "pulse"}

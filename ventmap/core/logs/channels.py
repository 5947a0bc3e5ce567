"""The trade's channels and the many names they go by."""

from __future__ import annotations

from dataclasses import dataclass

GAUGE = "gauge"


@dataclass(frozen=True)
class Channel:
    """A canonical channel: its label, quantity (see `quantities`), unit on file and the range physics
    allows.
    """

    name: str
    label: str
    quantity: str
    unit: str
    low: float
    high: float
    pattern: str


_TARGET = r"(?:target|desired|commanded|command|cmd|setpoint|set|request(?:ed)?|soll|spec(?:ified)?)"

_MAP = (
    r"(?:(?:intake )?manifold(?: absolute)?(?: air)?(?: pressure| press)?|map|boost(?: pressure|"
    r" press)?|charge pressure|ladedruck|saugrohrdruck|inlet pressure)"
)

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
    (
        "rpm",
        "Engine speed",
        "engine_speed",
        "rpm",
        0,
        20000,
        (
            r"(?:engine |eng |motor)?(?:rpm|revs?|revolutions)|(?:engine|eng|crank)"
            r" (?:speed|spd|revs?)|motordrehzahl|drehzahl"
        ),
    ),
    (
        "pedal",
        "Pedal",
        "fraction",
        "%",
        -2,
        105,
        (
            r"app(?: ?[12])?|(?:accel(?:erator)?|gas)(?: pedal)?(?: (?:position|pos|angle))?|pedal(?:"
            r" (?:position|pos))?|fahrpedal|driver demand"
        ),
    ),
    (
        "throttle",
        "Throttle",
        "fraction",
        "%",
        -2,
        105,
        (
            r"tps(?: ?1)?|tp|throttle(?: body| plate| blade)?(?:"
            r" (?:angle|position|pos|opening))?|drosselklappe(?:nwinkel)?"
        ),
    ),
    ("map_target", "Manifold target", "pressure", "kPa", 0, 600, rf"{_MAP} {_TARGET}|{_TARGET} {_MAP}"),
    ("map", "Manifold pressure", "pressure", "kPa", 3, 600, _MAP),
    (
        "baro",
        "Barometer",
        "pressure",
        "kPa",
        50,
        110,
        (
            r"baro(?:meter|metric)?(?: (?:pressure|press))?|(?:ambient|atmospheric|umgebungs)(?:"
            r" ?(?:pressure|druck))"
        ),
    ),
    (
        "iat",
        "Intake air",
        "temperature",
        "°C",
        -40,
        150,
        (
            r"iat|act|(?:intake|inlet) air|(?:intake|inlet|manifold|charge|air)(?: air)?(?: charge)?(?:"
            r" temp(?:erature)?)|ansaugluft(?:temp(?:eratur)?)?|charge temp"
        ),
    ),
    (
        "coolant",
        "Coolant",
        "temperature",
        "°C",
        -40,
        150,
        (
            r"ect|clt|coolant(?: temp(?:erature)?)?|engine(?: coolant)? temp(?:erature)?|water"
            r" temp(?:erature)?|k.hlmittel(?:temp(?:eratur)?)?"
        ),
    ),
    ("lambda_target", "Mixture target", "mixture", "lambda", 0.5, 2.0, rf"{_MIX} {_TARGET}|{_TARGET} {_MIX}"),
    (
        "lambda_2",
        "Mixture, bank 2",
        "mixture",
        "lambda",
        0.4,
        3.0,
        rf"{_MIX}(?: sensor| measured| actual)?(?: ?(?:b|bank))? ?2",
    ),
    (
        "lambda",
        "Mixture",
        "mixture",
        "lambda",
        0.4,
        3.0,
        rf"{_MIX}(?: sensor| measured| actual)?(?:(?: ?(?:b|bank))? ?1)?",
    ),
    ("stft_2", "Short trim, bank 2", "fraction", "%", -60, 60, _trim("stft", "short", 2)),
    ("stft_1", "Short trim", "fraction", "%", -60, 60, _trim("stft", "short", 1)),
    ("ltft_2", "Long trim, bank 2", "fraction", "%", -60, 60, _trim("ltft", "long", 2)),
    ("ltft_1", "Long trim", "fraction", "%", -60, 60, _trim("ltft", "long", 1)),
    ("global_trim", "Global trim", "fraction", "%", -60, 60, r"(?:global|master)(?: fuel)? trim"),
    (
        "spark",
        "Spark",
        "spark",
        "°",
        -40,
        70,
        r"(?:ignition|ign|spark)(?: (?:timing|angle|advance|adv))|timing(?: advance)?|advance|z.ndwinkel",
    ),
    (
        "knock",
        "Knock retard",
        "spark",
        "°",
        -1,
        40,
        r"knock (?:retard|ret|correction|pull)|kr|(?:spark|timing) (?:retard|pull)(?: knock)?|klopfr.cknahme",
    ),
    (
        "pulse",
        "Injector pulse",
        "pulse",
        "ms",
        0,
        60,
        (
            r"ipw|(?:inj(?:ector)?|fuel) ?(?:pw|pulse ?(?:width)?|(?:on|open) ?time|duration)(?: ?1)?|pulse"
            r" ?width|pw|einspritzzeit"
        ),
    ),
    (
        "duty",
        "Injector duty",
        "fraction",
        "%",
        0,
        130,
        r"idc|inj(?:ector)? ?(?:duty|dc)(?: ?cycle)?|duty ?cycle",
    ),
    (
        "battery",
        "Battery",
        "voltage",
        "V",
        0,
        32,
        r"(?:batt(?:ery)?|system|supply|ecu)(?: (?:voltage|volts?|v))?|vbatt?|voltage|volts|batteriespannung",
    ),
    (
        "speed",
        "Vehicle speed",
        "speed",
        "km/h",
        0,
        450,
        r"(?:vehicle|road|gps)(?: (?:speed|spd))|vss|mph|kmh|kph|speed|geschwindigkeit",
    ),
    (
        "feed",
        "Feed pressure",
        "pressure",
        "kPa",
        0,
        1500,
        r"(?:feed|fuel feed|low side|low pressure)(?: fuel)?(?: ?(?:pressure|press))|lpfp",
    ),
    (
        "rail",
        "Rail pressure",
        "pressure",
        "kPa",
        0,
        350000,
        (
            r"frp|(?:fuel )?rail(?: fuel)?(?: ?(?:pressure|press))|fuel"
            r" (?:pressure|press)|raildruck|kraftstoffdruck|fuel rail"
        ),
    ),
    (
        "rear_o2_1",
        "Rear sensor",
        "voltage",
        "V",
        -0.1,
        1.3,
        (
            r"(?:rear|post ?cat|secondary) ?o2(?: (?:sensor))?(?: ?b(?:ank)? ?1)?|o2s? ?s?2 b1|b1 ?s2|o2 b1"
            r" ?s2|o2s2 b1"
        ),
    ),
    (
        "rear_o2_2",
        "Rear sensor, bank 2",
        "voltage",
        "V",
        -0.1,
        1.3,
        r"(?:rear|post ?cat|secondary) ?o2(?: (?:sensor))? ?b(?:ank)? ?2|o2s? ?s?2 b2|b2 ?s2|o2s2 b2",
    ),
    (
        "ethanol",
        "Ethanol",
        "fraction",
        "%",
        -1,
        130,
        (
            r"eth(?:anol)?(?: (?:content|percent|fraction|pct))?|flex(?: fuel)?(?: (?:content|percent))?|e"
            r" content|alcohol(?: content)?"
        ),
    ),
    (
        "idle_target",
        "Idle target",
        "engine_speed",
        "rpm",
        300,
        3000,
        rf"idle(?: speed| rpm)? {_TARGET}|{_TARGET} idle(?: speed| rpm)?",
    ),
    (
        "wastegate",
        "Wastegate",
        "fraction",
        "%",
        -5,
        110,
        r"(?:wastegate|wg)(?: (?:duty|dc|position|pos))?(?: cycle)?|boost (?:duty|solenoid)(?: cycle)?",
    ),
    ("misfire", "Misfire count", "", "", 0, 1e6, r"mis ?fires?(?: ?(?:count(?:er|s)?|total))?"),
    ("oil_pressure", "Oil pressure", "pressure", "kPa", -10, 1500, r"oil (?:pressure|press)"),
    ("head_temp", "Head", "temperature", "°C", -40, 350, r"cht|(?:cylinder )?head temp(?:erature)?"),
    ("oil_temp", "Oil", "temperature", "°C", -40, 180, r"oil temp(?:erature)?|eot"),
    ("ambient", "Ambient", "temperature", "°C", -50, 60, r"(?:ambient|outside)(?: air)? temp(?:erature)?"),
    ("gear", "Gear", "", "", -1, 12, r"gear|gang"),
    ("slip", "Wheel slip", "fraction", "%", -100, 300, r"(?:wheel )?slip"),
    (
        "front_speed",
        "Front wheel speed",
        "speed",
        "km/h",
        0,
        450,
        r"(?:front|undriven)(?: wheel)? speed|wheel speed f[lr]?",
    ),
    (
        "rear_speed",
        "Rear wheel speed",
        "speed",
        "km/h",
        0,
        450,
        r"(?:rear|driven)(?: wheel)? speed|wheel speed r[lr]?",
    ),
    *(
        (
            f"egt_{n}",
            f"Exhaust {n}",
            "temperature",
            "°C",
            -40,
            1200,
            rf"(?:egt|exhaust(?: gas)? temp(?:erature)?)(?: ?(?:cyl(?:inder)?)?) ?{n}",
        )
        for n in range(1, 9)
    ),
)

CHANNELS: dict[str, Channel] = {entry[0]: Channel(*entry) for entry in _LIST}

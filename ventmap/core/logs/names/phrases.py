"""What each channel is called, in ideas: those that must be said, and those that may."""

from __future__ import annotations

from dataclasses import dataclass

from .lexicon import listed

#: Ideas that turn a name into another thing than the channel it is about.
TURNS = listed(
    """
    target error limit learn rate status count time distance second egr evap catalyst cam brake clutch
    steering transmission fan acceleration latitude turbine particulate current heat
    """
)
#: Ideas of what is measured: a name that says another than the channel's own is another channel.
MEASURES = listed(
    "speed rotation temperature pressure voltage torque position flow mass level load duty pulse ratio"
)


@dataclass(frozen=True)
class Phrase:
    """A way to say a channel; `weight` below 1 where it is short for more than one thing."""

    must: frozenset[str]
    may: frozenset[str] = frozenset()
    weight: float = 1.0


#: channel | what must be said + what may be | weight
_TABLE = """
rpm | rotation + engine speed crank actual
rpm | engine speed + actual crank
rpm | crank speed + engine
rpm | speed | 0.7
pedal | pa + actual | 0.48
pedal | pedal + position actual angle throttle
throttle | throttle + position angle actual air
map_target | manifold pressure target + intake air boost charge
map_target | boost target + pressure manifold air charge
map_target | charge pressure target + boost air intake
map | manifold pressure + intake air boost charge actual
map | boost pressure + charge air manifold intake actual
map | charge pressure + air boost intake actual
map | intake pressure + air boost actual | 0.95
map | boost + actual | 0.95
baro | barometric + pressure air ambient actual
baro | ambient pressure + air actual
baro | pa + actual | 0.5
iat | intake air temperature + manifold charge actual
iat | charge temperature + air intake boost manifold actual
iat | manifold temperature + air intake charge actual
iat | intake temperature + actual | 0.95
iat | air temperature + actual | 0.85
coolant | coolant temperature + engine actual
coolant | engine temperature + actual | 0.9
coolant | coolant + engine actual | 0.9
lambda_target | lambda target + ratio afr fuel actual o2
lambda_target | afr target + ratio fuel o2
lambda, lambda_2 | lambda + ratio afr o2 actual bank engine exhaust
lambda, lambda_2 | afr + ratio lambda actual o2 bank engine exhaust
stft_1, stft_2 | short trim + fuel term bank lambda o2
ltft_1, ltft_2 | long trim + fuel term bank lambda o2
spark | spark advance + angle engine actual cylinder
spark | spark angle + engine actual
spark | spark + engine actual cylinder | 0.95
spark | advance + angle | 0.85
knock | knock retard + spark angle actual
knock | spark retard + knock angle
knock | knock trim + spark angle | 0.95
knock | knock + cylinder angle | 0.55
pulse | injector pulse + fuel time actual engine
pulse | injector time + fuel actual
pulse | fuel pulse + injector time
pulse | pulse | 0.8
duty | injector duty + cycle fuel actual
duty | duty + cycle | 0.75
battery | battery + voltage system actual module
battery | module voltage + battery system actual
battery | system voltage + battery actual
battery | voltage | 0.8
speed | vehicle speed + actual
speed | speed | 0.85
feed | fuel feed pressure + low pump actual
feed | fuel low pressure + feed pump actual rail
feed | feed pressure + fuel low pump actual
rail | rail pressure + fuel actual high pump injector
rail | fuel high pressure + rail pump actual
rail | fuel pressure + actual | 0.9
rear_o2_1, rear_o2_2 | o2 rear + voltage bank exhaust catalyst
rear_o2_1, rear_o2_2 | rear voltage + bank o2 exhaust
rear_o2_1, rear_o2_2 | o2 voltage + bank rear exhaust
ethanol | ethanol + content fuel actual
idle_target | idle target + speed rotation engine
wastegate | wastegate + duty cycle position solenoid boost actual
wastegate | boost duty + solenoid cycle
wastegate | boost solenoid + duty cycle position
misfire | misfire + count engine cylinder
oil_pressure | oil pressure + engine actual
oil_temp | oil temperature + engine actual
head_temp | head temperature + cylinder engine actual
ambient | ambient temperature + air actual vehicle
gear | gear + actual position transmission
slip | slip + wheel actual ratio rear
front_speed | front wheel speed + vehicle actual
front_speed | front speed + wheel actual | 0.9
rear_speed | rear wheel speed + vehicle actual
rear_speed | rear speed + wheel actual | 0.9
egt | exhaust temperature + gas actual cylinder
egt | exhaust gas + temperature | 0.8
"""


def _read() -> dict[str, tuple[Phrase, ...]]:
    found: dict[str, tuple[Phrase, ...]] = {}
    for line in _TABLE.strip().splitlines():
        names, said, *weight = (part.strip() for part in line.split("|"))
        must, _, may = said.partition("+")
        phrase = Phrase(listed(must), listed(may), float(weight[0]) if weight else 1.0)
        channels = [f"egt_{n}" for n in range(1, 9)] if names == "egt" else names.split(", ")
        for channel in channels:
            found[channel] = (*found.get(channel, ()), phrase)
    return found


PHRASES = _read()

#: Channels that belong to a bank.
BANK = {
    f"{name}{tail}": bank
    for name, first, second in (
        ("lambda", "", "_2"),
        ("stft", "_1", "_2"),
        ("ltft", "_1", "_2"),
        ("rear_o2", "_1", "_2"),
    )
    for tail, bank in ((first, 1), (second, 2))
}

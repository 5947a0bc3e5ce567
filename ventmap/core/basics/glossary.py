"""The words of the trade, each in a sentence: one list for the screens and for the printed guide."""

from __future__ import annotations

#: word: what it means.
_WORDS = """
AFR: air to fuel by mass; what it means depends on the fuel, so lambda is kept and AFR is only shown.
back-to-back runs: runs before and after on one drum, in one gear, alike in heat; else they prove nothing.
barometer: the air pressure of the place; 101 kPa at the sea, about 85 kPa at 1 450 m.
base map: the map that a new computer starts on, chosen for an engine that breathes as freely or more freely.
blend: ethanol in petrol by volume; more of it asks for more fuel at the same lambda.
boost: manifold pressure above the barometer.
closed loop: the computer trims fuel by its mixture sensor; open loop is by the map alone.
crossed: two alike that were swapped, such as plugs of two banks or codes of two injectors.
dead time: how long an injector takes to open after it is told to; longer on a weak battery.
detonation: knock: the charge goes off by itself after the spark and hammers the piston.
duty: the share of the time for which an injector may open; above 85 % it has nothing left.
fuel trim: what the computer adds or takes to reach its mixture; short trim now, long trim learned.
gauge pressure: pressure above the barometer; absolute pressure counts from nothing.
gearing: kilometres an hour for each 1 000 rpm in a gear.
heat soak: parts that stay hot after a pull and warm the air of the next.
idle: running with the foot off and standing still.
lambda: mixture over the fuel's own balance: 1 burns all, above is lean, below is rich.
lean hole: a narrow band of speed in which the mixture goes lean, often from the shape of intake or exhaust.
map: the tables a computer runs on; versions have a parent, a note and a checksum.
overrun: rolling with the foot off, fuel often cut: the mixture sensor reads air.
piggyback: a box that sits between the stock computer and its sensors or injectors and leaves it in charge.
pull: full pedal in one gear from low to high speed; on a belt, full pedal near the engine's top speed.
read-back: reading what was written and comparing it; without it nothing counts as written.
stock image: what was in the computer before the first write: the way back.
tell-tale: something to look at that tells two variants of a model apart.
trigger offset: degrees before top dead centre at which the crank sensor's mark passes.
volumetric efficiency: how full a cylinder gets against its size; the filling table.
wideband: a mixture sensor that reads over the whole range, not only rich or lean.
"""


def glossary() -> list[tuple[str, str]]:
    """(word, what it means), by the alphabet."""
    rows = [line.split(": ", 1) for line in _WORDS.strip().splitlines()]
    return sorted(((word, meaning) for word, meaning in rows), key=lambda row: row[0].lower())

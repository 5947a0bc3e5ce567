"""Complaints that differ by kind of engine: smoke, whistle, limp mode, hesitation when hot, surging."""

from __future__ import annotations

from .symptom_entry import Cause, Complaint, Test

MORE: dict[str, Complaint] = {
    "smoke_diesel": Complaint(
        "Smoke, diesel",
        {
            "black_load": "black under load",
            "white_cold": "white while cold",
            "blue_overrun": "blue after an overrun",
            "boost_low": "boost lower than it was",
        },
        causes=(
            Cause(
                "boost leak or sticking vanes",
                4,
                {"black_load": 0.9, "white_cold": 0.1, "blue_overrun": 0.1, "boost_low": 0.95},
                "Pressurise the charge side; watch vanes move through their travel.",
            ),
            Cause(
                "too much fuel for the air",
                3,
                {"black_load": 0.95, "white_cold": 0.1, "blue_overrun": 0.05, "boost_low": 0.1},
                "Take the level or the rail pressure back until it runs clean.",
            ),
            Cause(
                "leaking or worn injector",
                2,
                {"black_load": 0.5, "white_cold": 0.85, "blue_overrun": 0.1, "boost_low": 0.1},
                "Leak-off test; renew with its washer and enter its code.",
            ),
            Cause(
                "oil past turbo or rings",
                2,
                {"black_load": 0.1, "white_cold": 0.2, "blue_overrun": 0.9, "boost_low": 0.4},
                "Look into the charge pipe; compression before anything is turned up.",
            ),
        ),
        tests=(
            Test("charge side under pressure, listen", 15, ("boost leak or sticking vanes",)),
            Test("same pull at the stock level", 10, ("too much fuel for the air",)),
            Test("leak-off into four glasses", 15, ("leaking or worn injector",)),
            Test("charge pipe off: oil pooled in it", 15, ("oil past turbo or rings",)),
        ),
        only="diesel",
    ),
    "smoke_petrol": Complaint(
        "Smoke, petrol",
        {
            "black_load": "black under load",
            "blue_overrun": "blue after an overrun",
            "white_sweet": "white and sweet when warm",
            "after_injectors": "since injector work",
        },
        causes=(
            Cause(
                "map far too rich",
                4,
                {"black_load": 0.95, "blue_overrun": 0.05, "white_sweet": 0.02, "after_injectors": 0.7},
                "Check flow, pressure and fluid of the injector figures, then log mixture.",
            ),
            Cause(
                "leaking injector",
                2,
                {"black_load": 0.5, "blue_overrun": 0.1, "white_sweet": 0.02, "after_injectors": 0.6},
                "Swap test; renew with seals.",
            ),
            Cause(
                "oil past rings, guides or turbo",
                3,
                {"black_load": 0.1, "blue_overrun": 0.95, "white_sweet": 0.05, "after_injectors": 0.1},
                "Compression and leak-down before any more load.",
            ),
            Cause(
                "coolant in a cylinder",
                1,
                {"black_load": 0.05, "blue_overrun": 0.1, "white_sweet": 0.95, "after_injectors": 0.1},
                "Stop: pressure-test the cooling, look into the cylinders.",
            ),
        ),
        tests=(
            Test("mixture at steady load", 5, ("map far too rich",)),
            Test("plugs after a night: one wet", 10, ("leaking injector",)),
            Test("leak-down on every cylinder", 40, ("oil past rings, guides or turbo",)),
            Test("cooling under pressure over an hour", 20, ("coolant in a cylinder",)),
        ),
        only="petrol",
    ),
    "whistle": Complaint(
        "Whistles or hisses under boost",
        {
            "with_boost": "grows with boost",
            "at_idle": "at idle too",
            "power_lost": "power is lost with it",
            "since_fit": "since the hose or pipe was touched",
        },
        causes=(
            Cause(
                "charge pipe or clamp leaks",
                5,
                {"with_boost": 0.95, "at_idle": 0.1, "power_lost": 0.7, "since_fit": 0.6},
                "Seat it, renew clamp and O-ring, pressurise again.",
            ),
            Cause(
                "vacuum leak at a tee or gasket",
                3,
                {"with_boost": 0.3, "at_idle": 0.95, "power_lost": 0.2, "since_fit": 0.7},
                "Smoke in the intake; renew the tee or gasket.",
            ),
            Cause(
                "turbo bearing or wheel",
                1,
                {"with_boost": 0.9, "at_idle": 0.3, "power_lost": 0.6, "since_fit": 0.1},
                "Stop: feel the shaft for play before it is run again.",
            ),
        ),
        tests=(
            Test("intake under pressure, soap on the joints", 15, ("charge pipe or clamp leaks",)),
            Test("smoke into the intake, engine off", 20, ("vacuum leak at a tee or gasket",)),
            Test("shaft play, engine cold", 20, ("turbo bearing or wheel",)),
        ),
        only="boosted",
    ),
    "limp_mode": Complaint(
        "Limp mode",
        {
            "in_pull": "comes in a pull",
            "key_on": "there as the key goes on",
            "boost_code": "a code for boost",
            "pedal_code": "a code for pedal or throttle",
        },
        causes=(
            Cause(
                "boost above what the computer allows",
                4,
                {"in_pull": 0.95, "key_on": 0.05, "boost_code": 0.9, "pedal_code": 0.05},
                "Take the level back, or set what it reports; read the code first.",
                only="boosted",
            ),
            Cause(
                "pedal or throttle tracks disagree",
                2,
                {"in_pull": 0.3, "key_on": 0.8, "boost_code": 0.02, "pedal_code": 0.95},
                "Read both tracks with the key on; look at that plug.",
            ),
            Cause(
                "plug not seated or pin pushed back",
                3,
                {"in_pull": 0.3, "key_on": 0.8, "boost_code": 0.3, "pedal_code": 0.3},
                "Unplug, look at every pin, push until it clicks.",
            ),
            Cause(
                "actuator or vanes slow",
                2,
                {"in_pull": 0.9, "key_on": 0.05, "boost_code": 0.8, "pedal_code": 0.02},
                "Move it through its travel by hand or by command.",
                only="boosted",
            ),
        ),
        tests=(
            Test("read codes, stored and pending", 3, ("pedal or throttle tracks disagree",)),
            Test("same pull at the stock level", 10, ("boost above what the computer allows",)),
            Test("plugs off, every pin looked at", 15, ("plug not seated or pin pushed back",)),
            Test("actuator through its travel", 10, ("actuator or vanes slow",)),
        ),
    ),
    "hesitates_hot": Complaint(
        "Hesitates when hot",
        {
            "after_stop": "after a stop, not on the move",
            "air_hot": "intake air reads hot",
            "pressure_low": "fuel pressure low or unsteady",
            "any_load": "at any load",
        },
        causes=(
            Cause(
                "vapour in the fuel",
                3,
                {"after_stop": 0.9, "air_hot": 0.6, "pressure_low": 0.8, "any_load": 0.5},
                "Shield or reroute the line; look at the return and the pump's own voltage.",
            ),
            Cause(
                "heat soak of air sensor or intake",
                3,
                {"after_stop": 0.8, "air_hot": 0.95, "pressure_low": 0.05, "any_load": 0.3},
                "Move the sensor out of the heat, or correct mixture by intake temperature.",
            ),
            Cause(
                "pump tires when hot",
                2,
                {"after_stop": 0.3, "air_hot": 0.2, "pressure_low": 0.95, "any_load": 0.2},
                "Pressure through a pull, hot; volts at the pump under load.",
            ),
            Cause(
                "coil or crank sensor breaks down hot",
                2,
                {"after_stop": 0.4, "air_hot": 0.2, "pressure_low": 0.05, "any_load": 0.8},
                "Warm and cool it while it misbehaves.",
                only="petrol",
            ),
        ),
        tests=(
            Test(
                "intake air and mixture after ten minutes' stop", 15, ("heat soak of air sensor or intake",)
            ),
            Test(
                "fuel pressure hot, at rest and in a pull", 20, ("vapour in the fuel", "pump tires when hot")
            ),
            Test("misfire counts while a coil is warmed", 20, ("coil or crank sensor breaks down hot",)),
        ),
    ),
    "surges": Complaint(
        "Surges at steady throttle or on the overrun",
        {
            "closed_loop": "stops when closed loop is left",
            "overrun": "only on the overrun",
            "since_exhaust": "since the exhaust was changed",
            "trims_swing": "trims swing",
        },
        causes=(
            Cause(
                "sensor delay after an exhaust change",
                3,
                {"closed_loop": 0.95, "overrun": 0.3, "since_exhaust": 0.9, "trims_swing": 0.95},
                "Longer delay and less gain in closed loop; sensor back to its distance.",
            ),
            Cause(
                "lean at small openings",
                4,
                {"closed_loop": 0.3, "overrun": 0.5, "since_exhaust": 0.6, "trims_swing": 0.3},
                "Log it, and fuel the cells of small opening.",
            ),
            Cause(
                "air leak ahead of the sensor",
                3,
                {"closed_loop": 0.4, "overrun": 0.7, "since_exhaust": 0.7, "trims_swing": 0.6},
                "Smoke the exhaust joints; renew the gasket.",
            ),
            Cause(
                "overrun fuel cut comes and goes",
                2,
                {"closed_loop": 0.1, "overrun": 0.95, "since_exhaust": 0.1, "trims_swing": 0.1},
                "Wider band between cut and return; hold idle air a moment longer.",
            ),
        ),
        tests=(
            Test("ride it with closed loop held off", 5, ("sensor delay after an exhaust change",)),
            Test("mixture at small openings", 10, ("lean at small openings",)),
            Test("smoke into the exhaust, engine off", 15, ("air leak ahead of the sensor",)),
            Test("pulse width through an overrun", 5, ("overrun fuel cut comes and goes",)),
        ),
    ),
}

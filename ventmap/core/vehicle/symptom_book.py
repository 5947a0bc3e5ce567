"""What complaints come from: causes with how common they are, the signs they show, and the checks that
tell.
"""

from __future__ import annotations

from .symptom_book_kinds import KINDS
from .symptom_book_more import MORE
from .symptom_book_throttle import THROTTLE
from .symptom_entry import Cause, Complaint, Test

#: Planning figures of practitioners, not statistics: a shop's own record is better.
BOOK: dict[str, Complaint] = {
    "misfire_one": Complaint(
        "Misfire on one cylinder",
        {
            "wet_after_standing": "its plug is wet after standing overnight",
            "high_rpm_boost": "only at high speed under boost",
            "cold_only": "only while cold",
            "after_injectors": "since injector work",
            "counts_idle": "misfires counted at idle",
        },
        causes=(
            Cause(
                "leaking injector",
                3,
                {"wet_after_standing": 0.9, "high_rpm_boost": 0.1, "cold_only": 0.7, "counts_idle": 0.7},
                "Swap it to another cylinder: the fault goes with it. Then clean or renew, with its seals.",
            ),
            Cause(
                "clogged injector",
                2,
                {"wet_after_standing": 0.05, "high_rpm_boost": 0.8, "cold_only": 0.2, "counts_idle": 0.3},
                "Flow-test the set; clean or renew.",
            ),
            Cause(
                "weak spark",
                4,
                {"wet_after_standing": 0.15, "high_rpm_boost": 0.75, "cold_only": 0.25, "counts_idle": 0.3},
                "Plug, then coil; close the gap for boost as the maker says.",
                only="petrol",
            ),
            Cause(
                "low compression",
                1,
                {"wet_after_standing": 0.3, "high_rpm_boost": 0.2, "cold_only": 0.5, "counts_idle": 0.9},
                "Leak-down tells valve from ring. Repair before any tuning.",
            ),
            Cause(
                "injector plug crossed or loose",
                1.5,
                {"after_injectors": 0.95, "high_rpm_boost": 0.2, "counts_idle": 0.9},
                "Click, then tug; follow the wire colours against the diagram.",
            ),
        ),
        tests=(
            Test("swap the injector with its neighbour", 40, ("leaking injector", "clogged injector")),
            Test("swap the coil with its neighbour", 5, ("weak spark",)),
            Test("compression on this cylinder and its neighbour", 25, ("low compression",)),
            Test("tug every injector plug and read its wire colours", 4, ("injector plug crossed or loose",)),
            Test("plug out after standing overnight: wet or dry", 12, ("leaking injector",)),
        ),
    ),
    "high_idle": Complaint(
        "Idle is high and steady",
        {
            "after_injectors": "since injector work",
            "hiss": "a hiss near the manifold",
            "trims_positive": "trims at idle are positive",
            "cable_tight": "the throttle stands off its stop",
        },
        causes=(
            Cause(
                "air past a lower injector seal",
                4,
                {"after_injectors": 0.9, "hiss": 0.5, "trims_positive": 0.85, "cable_tight": 0.05},
                "New lower seals, oiled; an adapter where the seal sits on a neck narrower than its bore.",
            ),
            Cause(
                "intake hose or gasket leak",
                3,
                {"after_injectors": 0.3, "hiss": 0.6, "trims_positive": 0.85, "cable_tight": 0.05},
                "Smoke the intake; renew the gasket or the hose.",
            ),
            Cause(
                "throttle not closing",
                2,
                {"after_injectors": 0.3, "hiss": 0.1, "trims_positive": 0.2, "cable_tight": 0.9},
                "Free the cable or learn the throttle's closed stop.",
                only="petrol",
            ),
            Cause(
                "idle target or air table in the map",
                2,
                {"after_injectors": 0.4, "hiss": 0.05, "trims_positive": 0.2, "cable_tight": 0.05},
                "Read the idle target; compare with stock.",
            ),
        ),
        tests=(
            Test(
                "spray a little water along the injector feet: the idle falls",
                5,
                ("air past a lower injector seal",),
            ),
            Test("smoke in the intake", 20, ("air past a lower injector seal", "intake hose or gasket leak")),
            Test("read throttle angle with the pedal free", 2, ("throttle not closing",)),
            Test("read the idle target live", 3, ("idle target or air table in the map",)),
        ),
    ),
    "dies_closing": Complaint(
        "Dies when the throttle closes",
        {
            "after_reflash": "since a reflash",
            "cold_only": "only while cold",
            "restarts": "restarts at once",
            "lights_dip": "lamps dip as it dies",
        },
        causes=(
            Cause(
                "idle air or overrun settings",
                4,
                {"after_reflash": 0.9, "cold_only": 0.3, "restarts": 0.9, "lights_dip": 0.2},
                "Raise the air of closed throttle a little; give fuel back earlier after overrun.",
            ),
            Cause(
                "large injectors with wrong dead time",
                3,
                {"after_reflash": 0.6, "cold_only": 0.4, "restarts": 0.8, "lights_dip": 0.5},
                "Enter the dead-time table at this pressure; split the fuel error once warm.",
            ),
            Cause(
                "charging too weak",
                1,
                {"after_reflash": 0.2, "cold_only": 0.3, "restarts": 0.5, "lights_dip": 0.9},
                "Measure 13.2–14.8 V running; belt, alternator, grounds.",
            ),
            Cause(
                "sticking idle valve or throttle",
                2,
                {"after_reflash": 0.2, "cold_only": 0.6, "restarts": 0.8, "lights_dip": 0.1},
                "Clean it as its maker says; learn it again.",
            ),
        ),
        tests=(
            Test(
                "log battery, throttle and lambda while closing",
                10,
                ("idle air or overrun settings", "sticking idle valve or throttle"),
            ),
            Test("battery volts at idle, loads on", 3, ("charging too weak",)),
            Test("compare dead time with the injector's sheet", 6, ("large injectors with wrong dead time",)),
        ),
        only="petrol",
    ),
    "no_power": Complaint(
        "Runs out of breath high up",
        {
            "lean_wot": "lean at full load",
            "boost_low": "boost below what it was",
            "since_exhaust": "since an exhaust or filter change",
            "hot_only": "worse when hot",
            "whine": "the pump whines",
        },
        causes=(
            Cause(
                "injectors or pump at their limit",
                3,
                {"lean_wot": 0.9, "boost_low": 0.1, "hot_only": 0.5, "whine": 0.5},
                "See Plan: flow need against what is fitted; pump at boost.",
            ),
            Cause(
                "map made for less air",
                3,
                {"lean_wot": 0.7, "boost_low": 0.1, "since_exhaust": 0.9, "hot_only": 0.3},
                "A map for freer breathing, then correct from a log.",
            ),
            Cause(
                "boost leak or slipping drive",
                3,
                {"lean_wot": 0.2, "boost_low": 0.95, "hot_only": 0.4},
                "Pressurise the intake; look at the belt.",
            ),
            Cause(
                "knock control pulls spark",
                2,
                {"lean_wot": 0.3, "boost_low": 0.1, "hot_only": 0.9},
                "Fuel octane, intake temperature, plugs; log knock retard.",
                only="petrol",
            ),
            Cause(
                "blocked catalyst or filter",
                1,
                {"lean_wot": 0.1, "boost_low": 0.4, "since_exhaust": 0.1, "hot_only": 0.4},
                "Measure back pressure; look at the filter.",
            ),
        ),
        tests=(
            Test(
                "one logged pull with lambda, pressure and knock",
                15,
                ("injectors or pump at their limit", "map made for less air", "knock control pulls spark"),
            ),
            Test("pressurise the intake and listen", 15, ("boost leak or slipping drive",)),
            Test("fuel pressure through a pull", 20, ("injectors or pump at their limit",)),
            Test("back pressure ahead of the catalyst", 20, ("blocked catalyst or filter",)),
        ),
    ),
    "hard_start": Complaint(
        "Starts badly",
        {
            "hot_only": "only when hot",
            "cold_only": "only when cold",
            "fuel_smell": "smells of fuel while cranking",
            "slow_crank": "cranks slowly",
        },
        causes=(
            Cause(
                "weak battery or ground",
                3,
                {"hot_only": 0.3, "cold_only": 0.7, "slow_crank": 0.95, "fuel_smell": 0.2},
                "Charge, load-test, measure the grounds cranking.",
            ),
            Cause(
                "fuel drains back",
                3,
                {"hot_only": 0.6, "cold_only": 0.4, "slow_crank": 0.05, "fuel_smell": 0.05},
                "Hold the pressure with the key off: a fall points to the check valve.",
            ),
            Cause(
                "leaking injector floods it",
                2,
                {"hot_only": 0.8, "cold_only": 0.1, "slow_crank": 0.05, "fuel_smell": 0.95},
                "Swap test; renew with seals.",
            ),
            Cause(
                "start fuel in the map",
                2,
                {"hot_only": 0.4, "cold_only": 0.7, "slow_crank": 0.05, "fuel_smell": 0.5},
                "Adjust cranking fuel by coolant temperature.",
            ),
        ),
        tests=(
            Test("battery volts while cranking", 3, ("weak battery or ground",)),
            Test(
                "fuel pressure ten minutes after key-off",
                12,
                ("fuel drains back", "leaking injector floods it"),
            ),
            Test("plugs out after a failed start: wet", 15, ("leaking injector floods it",)),
            Test("start with the pedal a quarter open", 2, ("start fuel in the map",)),
        ),
    ),
    **MORE,
    **THROTTLE,
    **KINDS,
}

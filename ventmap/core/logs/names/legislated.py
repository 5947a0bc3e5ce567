"""Names of the legislated services: what SAE J1979 and ISO 15031-5 call the data of services 01 and 02.

Each line: identifier, long name, short name, and the channel it is here; a dash where it is known and
nothing here judges it.
"""

from __future__ import annotations

import re
from functools import cache

_TABLE = """
04|Calculated Load Value|LOAD_PCT|-
04|Calculated Engine Load|LOAD_PCT|-
05|Engine Coolant Temperature|ECT|coolant
06|Short Term Fuel Trim - Bank 1|SHRTFT1|stft_1
07|Long Term Fuel Trim - Bank 1|LONGFT1|ltft_1
08|Short Term Fuel Trim - Bank 2|SHRTFT2|stft_2
09|Long Term Fuel Trim - Bank 2|LONGFT2|ltft_2
06|Short Term Fuel Trim - Bank 3|SHRTFT3|-
07|Long Term Fuel Trim - Bank 3|LONGFT3|-
08|Short Term Fuel Trim - Bank 4|SHRTFT4|-
09|Long Term Fuel Trim - Bank 4|LONGFT4|-
0A|Fuel Rail Pressure (gauge)|FRP|rail
0A|Fuel Pressure|FP|rail
0B|Intake Manifold Absolute Pressure|MAP|map
0C|Engine RPM|RPM|rpm
0C|Engine Speed|RPM|rpm
0D|Vehicle Speed Sensor|VSS|speed
0D|Vehicle Speed|VSS|speed
0E|Ignition Timing Advance for #1 Cylinder|SPARKADV|spark
0E|Timing Advance|SPARKADV|spark
0F|Intake Air Temperature|IAT|iat
10|Air Flow Rate from Mass Air Flow Sensor|MAF|-
10|Mass Air Flow Rate|MAF|-
11|Absolute Throttle Position|TP|throttle
11|Throttle Position|TP|throttle
12|Commanded Secondary Air Status|AIR_STAT|-
13|Location of Oxygen Sensors|O2SLOC|-
14|Bank 1 - Sensor 1 Oxygen Sensor Output Voltage|O2S11|-
15|Bank 1 - Sensor 2 Oxygen Sensor Output Voltage|O2S12|rear_o2_1
16|Bank 1 - Sensor 3 Oxygen Sensor Output Voltage|O2S13|-
17|Bank 1 - Sensor 4 Oxygen Sensor Output Voltage|O2S14|-
18|Bank 2 - Sensor 1 Oxygen Sensor Output Voltage|O2S21|-
19|Bank 2 - Sensor 2 Oxygen Sensor Output Voltage|O2S22|rear_o2_2
1A|Bank 2 - Sensor 3 Oxygen Sensor Output Voltage|O2S23|-
1B|Bank 2 - Sensor 4 Oxygen Sensor Output Voltage|O2S24|-
14|Short Term Fuel Trim Bank 1 - Sensor 1|SHRTFT11|-
15|Short Term Fuel Trim Bank 1 - Sensor 2|SHRTFT12|-
18|Short Term Fuel Trim Bank 2 - Sensor 1|SHRTFT21|-
19|Short Term Fuel Trim Bank 2 - Sensor 2|SHRTFT22|-
1C|OBD Requirements to which Vehicle is Designed|OBDSUP|-
1E|Auxiliary Input Status|PTO_STAT|-
1E|Power Take Off Status|PTO_STAT|-
1F|Time Since Engine Start|RUNTM|-
21|Distance Travelled While MIL is Activated|MIL_DIST|-
22|Fuel Rail Pressure relative to manifold vacuum|FRP_REL|-
23|Fuel Rail Gauge Pressure|FRP|rail
23|Fuel Rail Pressure|FRP|rail
24|O2 Sensor 1 Equivalence Ratio|EQ_RAT11|lambda
24|Bank 1 - Sensor 1 Equivalence Ratio|EQ_RAT11|lambda
25|Bank 1 - Sensor 2 Equivalence Ratio|EQ_RAT12|-
25|O2 Sensor 2 Equivalence Ratio|EQ_RAT12|-
26|Bank 2 - Sensor 1 Equivalence Ratio|EQ_RAT21|lambda_2
24|O2 Sensor 1 Voltage|O2S11|-
25|O2 Sensor 2 Voltage|O2S12|rear_o2_1
2C|Commanded EGR|EGR_PCT|-
2D|EGR Error|EGR_ERR|-
2E|Commanded Evaporative Purge|EVAP_PCT|-
2F|Fuel Level Input|FLI|-
30|Number of warm-ups since DTCs cleared|WARM_UPS|-
31|Distance since DTCs cleared|CLR_DIST|-
32|Evap System Vapor Pressure|EVAP_VP|-
33|Barometric Pressure|BARO|baro
33|Absolute Barometric Pressure|BARO|baro
34|O2 Sensor 1 Current|O2S11|-
3C|Catalyst Temperature Bank 1, Sensor 1|CATEMP11|-
3D|Catalyst Temperature Bank 2, Sensor 1|CATEMP21|-
3E|Catalyst Temperature Bank 1, Sensor 2|CATEMP12|-
3F|Catalyst Temperature Bank 2, Sensor 2|CATEMP22|-
41|Monitor Status This Driving Cycle|MONITOR|-
42|Control Module Voltage|VPWR|battery
43|Absolute Load Value|LOAD_ABS|-
44|Commanded Equivalence Ratio|EQ_RAT|lambda_target
44|Fuel/Air Commanded Equivalence Ratio|EQ_RAT|lambda_target
44|Commanded Air-Fuel Equivalence Ratio|EQ_RAT|lambda_target
45|Relative Throttle Position|TP_R|-
46|Ambient Air Temperature|AAT|ambient
47|Absolute Throttle Position B|TP_B|-
48|Absolute Throttle Position C|TP_C|-
49|Accelerator Pedal Position D|APP_D|pedal
4A|Accelerator Pedal Position E|APP_E|-
4B|Accelerator Pedal Position F|APP_F|-
4C|Commanded Throttle Actuator Control|TAC_PCT|-
4D|Time Run by the Engine while MIL Activated|MIL_TIME|-
4E|Time since Diagnostic Trouble Codes Cleared|CLR_TIME|-
50|Maximum Value for Air Flow Rate|MAF_MAX|-
51|Type of Fuel Currently Being Utilized|FUEL_TYP|-
52|Ethanol Fuel %|ALCH_PCT|ethanol
52|Alcohol Fuel Percentage|ALCH_PCT|ethanol
53|Absolute Evap System Vapor Pressure|EVAP_VPA|-
54|Evap System Vapor Pressure|EVAP_VP|-
55|Short Term Secondary O2 Sensor Fuel Trim - Bank 1|STSO2FT1|-
56|Long Term Secondary O2 Sensor Fuel Trim - Bank 1|LGSO2FT1|-
57|Short Term Secondary O2 Sensor Fuel Trim - Bank 2|STSO2FT2|-
58|Long Term Secondary O2 Sensor Fuel Trim - Bank 2|LGSO2FT2|-
59|Fuel Rail Absolute Pressure|FRP|rail
5A|Relative Accelerator Pedal Position|APP_R|-
5B|Hybrid Battery Pack Remaining Life|BAT_PWR|-
5C|Engine Oil Temperature|EOT|oil_temp
5D|Fuel Injection Timing|FUEL_TIMING|-
5E|Engine Fuel Rate|FUEL_RATE|-
61|Driver's Demand Engine - Percent Torque|TQ_DD|-
62|Actual Engine - Percent Torque|TQ_ACT|-
63|Engine Reference Torque|TQ_REF|-
64|Engine Percent Torque Data|TQ_MAX|-
66|Mass Air Flow Sensor A|MAFA|-
67|Engine Coolant Temperature 1|ECT1|coolant
67|Engine Coolant Temperature 2|ECT2|-
68|Intake Air Temperature Bank 1, Sensor 1|IAT11|iat
68|Intake Air Temperature Bank 1, Sensor 2|IAT12|-
69|Actual EGR Duty Cycle|EGR_A_ACT|-
6A|Commanded Diesel Intake Air Flow Control|IAF_A_CMD|-
6B|Exhaust Gas Recirculation Temperature|EGRT11|-
6C|Commanded Throttle Actuator Control A|TAC_A_CMD|-
6C|Relative Throttle Position A|TP_A_REL|-
6D|Commanded Fuel Rail Pressure|FRP_A_CMD|-
6D|Fuel Rail Pressure A|FRP_A|rail
6D|Fuel Temperature A|FRT_A|-
6E|Injection Control Pressure|ICP_A|-
6F|Turbocharger Compressor Inlet Pressure|TCA_CINP|-
70|Commanded Boost Pressure A|BP_A_CMD|map_target
70|Boost Pressure Sensor A|BP_A_ACT|map
71|Commanded Variable Geometry Turbo Position|VGT_A_CMD|-
71|Variable Geometry Turbo Position|VGT_A_ACT|-
72|Commanded Wastegate Control|WG_A_CMD|-
72|Wastegate Position A|WG_A_ACT|wastegate
73|Exhaust Pressure Sensor Bank 1|EP1|-
74|Turbocharger RPM|TCA_RPM|-
75|Turbocharger Compressor Inlet Temperature|TCA_CINT|-
77|Charge Air Cooler Temperature Bank 1, Sensor 1|CACT11|iat
78|Exhaust Gas Temperature Bank 1, Sensor 1|EGT11|egt_1
78|Exhaust Gas Temperature Bank 1, Sensor 2|EGT12|-
7A|Diesel Particulate Filter Differential Pressure|DPF1_DP|-
7C|Diesel Particulate Filter Inlet Temperature|DPF1_INT|-
7F|Total Engine Run Time|RUN_TIME|-
83|NOx Sensor Concentration|NOX11|-
84|Manifold Surface Temperature|MST|-
85|NOx Control System Reagent Level|REAG_LVL|-
86|Particulate Matter Sensor|PM11|-
87|Intake Manifold Absolute Pressure A|MAP_A|map
87|Intake Manifold Absolute Pressure B|MAP_B|-
8D|Absolute Throttle Position G|TP_G|-
8E|Engine Friction - Percent Torque|TQ_FR|-
A4|Transmission Actual Gear|GEAR_ACT|gear
A6|Odometer|ODO|-
03|Fuel System 1 Status|FUELSYS1|-
03|Fuel System 2 Status|FUELSYS2|-
01|Number of Emission-Related DTCs|DTC_CNT|-
01|Malfunction Indicator Lamp Status|MIL|-
02|DTC that Caused Required Freeze Frame Data Storage|DTCFRZF|-
"""


def _key(name: str) -> str:
    return re.sub(r"[^a-z0-9%]+", "", name.lower())


@cache
def table() -> tuple[tuple[str, str, str, str], ...]:
    """(identifier, long name, short name, channel or a dash), a line each."""
    rows = [line.split("|") for line in _TABLE.strip().splitlines()]
    return tuple((pid, long, short, channel) for pid, long, short, channel in rows)


@cache
def _index() -> dict[str, str]:
    found: dict[str, str] = {}
    for _, long, _, channel in table():
        found[_key(long)] = channel
    for _, _, short, channel in table():
        # Where one short name serves several, the first that is a channel is meant.
        key = _key(short)
        if found.get(key, "-") == "-":
            found[key] = channel
    return found


def legislated(name: str) -> str | None:
    """The channel that a legislated name is; a dash where it is known and judged by nothing; None where it is
    none of these names.

    Examples
    --------
    >>> legislated("Intake manifold absolute pressure"), legislated("RUNTM"), legislated("Boost duty")
    ('map', '-', None)
    """
    index = _index()
    # Of a path the last part is the name.
    return index.get(_key(name), index.get(_key(name.rsplit(".", 1)[-1])))

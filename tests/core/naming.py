"""Names of columns for tests: in no table, of no channel, and ways to write them."""

from __future__ import annotations

import random
import re

#: Names that stand in no list of spellings: (name with its unit, channel).
HELD_OUT = [
    ("Crank Speed (rpm)", "rpm"),
    ("engine.rotation.speed", "rpm"),
    ("ENG_SPD_ACTUAL", "rpm"),
    ("Motor Umdrehungen [U/min]", "rpm"),
    ("Régime moteur (tr/min)", "rpm"),
    ("Velocidad motor [rpm]", "rpm"),
    ("AccelPedalPos_%", "pedal"),
    ("driver.accelerator.pedal.position", "pedal"),
    ("Gaspedalstellung [%]", "pedal"),
    ("Position pédale accélérateur (%)", "pedal"),
    ("Posición pedal acelerador", "pedal"),
    ("ThrottleBodyOpening", "throttle"),
    ("Drosselklappenstellung [%]", "throttle"),
    ("Position papillon (%)", "throttle"),
    ("Posición mariposa (%)", "throttle"),
    ("engine.intake.manifoldPressure", "map"),
    ("Plenum Pressure kPa", "map"),
    ("intake_manifold_press_abs_kpa", "map"),
    ("Pression collecteur admission (kPa)", "map"),
    ("Presión colector de admisión [kPa]", "map"),
    ("Saugrohrdruck Istwert [mbar]", "map"),
    ("Ladedruck Sollwert [mbar]", "map_target"),
    ("DesiredManifoldPressure (kPa)", "map_target"),
    ("ecu.boost.target", "map_target"),
    ("Consigne pression collecteur (kPa)", "map_target"),
    ("Atmospheric Air Pressure (kPa)", "baro"),
    ("Atmosphärendruck [mbar]", "baro"),
    ("Pression atmosphérique (kPa)", "baro"),
    ("Presión atmosférica", "baro"),
    ("sensors.air.intake.temperature", "iat"),
    ("ManifoldAirTemp_C", "iat"),
    ("Température air admission (°C)", "iat"),
    ("Ladelufttemperatur [°C]", "iat"),
    ("Water Temperature Sensor (°C)", "coolant"),
    ("Kühlwassertemperatur", "coolant"),
    ("Température liquide refroidissement", "coolant"),
    ("Temperatura agua motor", "coolant"),
    ("Measured Lambda", "lambda"),
    ("engine.exhaust.lambda.b1.actual", "lambda"),
    ("Wideband O2 Lambda", "lambda"),
    ("Lambda Istwert Bank 1", "lambda"),
    ("lambda_b2_measured", "lambda_2"),
    ("Lambda Istwert Bank 2", "lambda_2"),
    ("engine.fuel.lambda.target", "lambda_target"),
    ("Lambda Soll", "lambda_target"),
    ("Consigne lambda", "lambda_target"),
    ("bank1.fuel.trim.short", "stft_1"),
    ("ShortTermTrim_B2 (%)", "stft_2"),
    ("Kurzzeit Gemischkorrektur Bank 1 [%]", "stft_1"),
    ("LongTermTrimBank1", "ltft_1"),
    ("fuel_trim_long_bank_2_%", "ltft_2"),
    ("Ign Angle Actual (deg)", "spark"),
    ("Avance allumage (°)", "spark"),
    ("Avance de encendido", "spark"),
    ("Knock Control Retard (deg)", "knock"),
    ("ignition.knock.retard", "knock"),
    ("Injection Time (ms)", "pulse"),
    ("Fuel Injector Pulse Duration [ms]", "pulse"),
    ("Einspritzdauer [ms]", "pulse"),
    ("InjectorDutyCycle_%", "duty"),
    ("Einspritzventil Auslastung [%]", "duty"),
    ("System Voltage Actual [V]", "battery"),
    ("Bordnetzspannung [V]", "battery"),
    ("Tension batterie (V)", "battery"),
    ("Voltaje batería", "battery"),
    ("Vitesse véhicule (km/h)", "speed"),
    ("Fahrzeuggeschwindigkeit [km/h]", "speed"),
    ("Velocidad vehículo", "speed"),
    ("High Pressure Fuel Rail (kPa)", "rail"),
    ("Pression rampe carburant (bar)", "rail"),
    ("fuel.low.pressure (kPa)", "feed"),
    ("Flex Fuel Ethanol Fraction %", "ethanol"),
    ("Contenido etanol (%)", "ethanol"),
    ("Desired Idle RPM", "idle_target"),
    ("Leerlauf Solldrehzahl [1/min]", "idle_target"),
    ("Wastegate Solenoid Duty (%)", "wastegate"),
    ("Engine Oil Pressure (bar)", "oil_pressure"),
    ("Öldruck [bar]", "oil_pressure"),
    ("Température huile (°C)", "oil_temp"),
    ("Außentemperatur [°C]", "ambient"),
    ("Cylinder 3 EGT (°C)", "egt_3"),
    ("Abgastemperatur Zylinder 2 [°C]", "egt_2"),
    ("Rear O2 Sensor Voltage B1 (V)", "rear_o2_1"),
    ("Current Gear", "gear"),
]

#: Near to a channel, and none: (name).
NOT_OURS = [
    "Fuel Temperature (°C)",
    "Transmission Oil Temp (°C)",
    "ECU Temperature (°C)",
    "Turbo Speed (rpm)",
    "Torque Converter Slip Speed (rpm)",
    "Exhaust Back Pressure (kPa)",
    "Brake Pressure (kPa)",
    "Raildruck Sollwert [bar]",
    "Throttle Target (%)",
    "RPM Limit",
    "Lambda Error",
    "Boost Error (kPa)",
    "Coolant Level (%)",
    "Fuel Level (%)",
    "Engine Torque (Nm)",
    "Intake Cam Angle (deg)",
    "Spark Limit (deg)",
    "Lambda Control Status",
    "Knock Sensor Voltage (V)",
    "Pedal Voltage (V)",
    "Throttle Angle (deg)",
    "Tyre Pressure FL (kPa)",
    "Steering Angle (deg)",
    "Mass Air Flow (g/s)",
    "Catalyst Temperature (°C)",
    "Wheel Speed Difference (km/h)",
    "Clutch Position (%)",
    "EGR Duty (%)",
    "Fan Duty (%)",
    "Purge Duty (%)",
    "Battery Current (A)",
    "Battery Temperature (°C)",
    "Turbo Inlet Pressure (kPa)",
    "Speed Limiter",
    "Heater Voltage (V)",
    "Alternator Voltage (V)",
    "Lambda Right",
    "Lambda Cyl 3",
    "Pre Throttle Pressure (kPa)",
    "Manifold Vacuum (inHg)",
    "Knock Count",
]


def mangled(name: str, chance: random.Random) -> str:
    """A name as another logger would write it: case, joints, and what stands between words."""
    parted = re.fullmatch(r"(.*?)\s*[\[(]([^\])]*)[\])]", name)
    if parted and not re.search(r"\d|gauge", parted[2]):
        return f"{mangled(parted[1], chance)}{chance.choice([' ({})', ' [{}]', '({})']).format(parted[2])}"
    words = re.findall(r"[^\W_]+|%", name)
    style = chance.randrange(6)
    if style == 0:
        return "_".join(words).lower()
    if style == 1:
        return " ".join(words).upper()
    if style == 2:
        return "".join(word[:1].upper() + word[1:].lower() for word in words)
    if style == 3:
        return "-".join(words)
    if style == 4:
        return "ecu." + "_".join(words).lower()
    return "  ".join(words)

"""The trade's words in four languages and in loggers' short forms, each as the ideas that it stands for."""

from __future__ import annotations


def listed(text: str) -> frozenset[str]:
    """The words of a text."""
    return frozenset(text.split())


#: idea: its spellings without accents, lower case; an umlaut stands as its vowel, and as vowel and e.
_IDEAS = """
engine: engine eng motor moteur
rotation: rpm rev revs revolutions drehzahl regime revoluciones umdrehungen upm nmot tours giri
  rotational
speed: speed spd velocity vitesse velocidad geschwindigkeit
vehicle: vehicle veh fahrzeug vehicule vehiculo road gps car ground
wheel: wheel whl rad roue rueda
front: front vorn vorne vorder avant delantera delantero undriven fl fr
rear: rear hinten hinter arriere trasera trasero driven rl rr post downstream
crank: crank crankshaft kurbelwelle vilebrequin ciguenal
pressure: pressure press pres prs druck pression presion
temperature: temperature temp tmp temperatur temperatura
manifold: manifold mfld mani saugrohr collecteur colector plenum
intake: intake inlet ansaug induction admission admision
air: air luft aire
charge: charge ladeluft suralimentation
boost: boost sobrealimentacion
barometric: baro barometric barometer atmospheric luftdruck atmospharen atmospherique atmosferica
  barometrique barometrica atm atmos
ambient: ambient outside umgebung umgebungs aussen ambiante ambiente exterieur exterior
coolant: coolant water kuhlmittel kuehlmittel kuhlwasser kuehlwasser refroidissement eau
  refrigerante agua wasser
lambda: lambda lam luftzahl wideband wb uego equivalence
afr: afr
ratio: ratio rat verhaltnis rapporto
target: target tgt desired des commanded command cmd setpoint set soll sollwert consigne cible
  objetivo demanded requested request req wanted specified spec goal ziel deseado reference
actual: actual act ist istwert measured meas real current aktuell gemessen mesure medido
short: short kurz kurzzeit court corto shrt st
long: long lang langzeit longue largo lng lt
term: term terme plazo
trim: trim trims correction corr adaption adaptation korrektur correccion ajuste gemischkorrektur ft
  integrator
spark: spark ignition ign timing zundung zuendung zund zuend zundzeitpunkt zuendzeitpunkt allumage
  encendido
advance: advance adv avance vorverstellung
angle: angle winkel angulo ang
knock: knock klopf klopfen cliquetis detonation picado
retard: retard ret rucknahme ruecknahme retrait retardo retraso pull
injector: injector inj injectors injection einspritz einspritzung einspritzventil injecteur inyector
  inyeccion
pulse: pulse pulsewidth pw width duration dauer impulsion pulso opentime ontime
duty: duty tastverhaltnis tastverhaeltnis auslastung dutycycle
cycle: cycle zyklus ciclo
battery: battery batt bat batterie bateria bordnetz
voltage: voltage volt volts spannung tension voltaje
module: module ecu ecm pcm steuergerat steuergeraet calculateur controller
system: system supply net
throttle: throttle drosselklappe drosselklappen drossel papillon mariposa thr etc
position: position pos opening stellung posicion offnung oeffnung ouverture apertura
pedal: pedal accelerator accel fahrpedal gaspedal pedale accelerateur acelerador driver
fuel: fuel kraftstoff carburant combustible sprit benzin
rail: rail rampe rampa hochdruck
feed: feed lift vorforder vorfoerder niederdruck
low: low basse baja lp
high: high hp haute alta
pump: pump pumpe pompe bomba
o2: oxygen sauerstoff oxygene oxigeno lambdasonde
ethanol: ethanol eth alcohol flex flexfuel alkohol etanol alch
content: content fraction percentage anteil gehalt teneur contenido composition
idle: idle leerlauf ralenti
wastegate: wastegate wg
solenoid: solenoid valve ventil electrovanne actuator aktuator
misfire: misfire misfires aussetzer zundaussetzer rates fallos
oil: oil ol oel huile aceite
gear: gear gang marcha gears
slip: slip schlupf glissement deslizamiento
exhaust: exhaust abgas echappement escape
gas: gas gaz gases
load: load last carga
mass: mass masse masa
flow: flow debit caudal durchfluss
level: level niveau nivel fullstand fuellstand
time: time zeit temps tiempo timestamp clock uhrzeit elapsed zeitstempel
count: count counter counts zahler zaehler compteur total number contador
error: error deviation delta difference diff abweichung fehler erreur err
limit: limit limiter begrenzer limiteur max maximum min minimum grenze limite lim peak
learn: learn learned learnt base
rate: rate gradient change
status: status state flag mode switch active enabled request monitor ready support supported
catalyst: catalyst cat catalytic katalysator kat catalyseur
evap: evap evaporative vapor vapour purge
egr: egr agr
torque: torque drehmoment couple trq
clutch: clutch kupplung embrayage embrague
brake: brake bremse frein freno
transmission: transmission trans gearbox getriebe boite trans caja
fan: fan lufter luefter ventilateur ventilador
distance: distance odometer strecke kilometerstand
acceleration: acceleration lateral longitudinal gforce
steering: steering lenk
latitude: latitude longitude heading altitude lat lon gpsalt
cam: cam camshaft vvt vct nockenwelle intakecam exhaustcam
particulate: particulate dpf soot nox reagent def
side: left right links rechts gauche droite izquierda derecha
heat: heater heating heizung chauffage
turbine: turbo turbocharger turbolader turbine compressor vane vgt vnt
current: amp amps amperage courant strom corriente
second: secondary aux auxiliary
"""

#: Short forms that stand for more than one idea.
_FORMS = """
af: afr
pa: pa
map: manifold pressure
iat: intake air temperature
act: actual
mat: manifold air temperature
ect: coolant temperature
clt: coolant temperature
cts: coolant temperature
eot: oil temperature
aat: ambient temperature
tps: throttle position
tp: throttle position
app: pedal position
stft: short trim
ltft: long trim
shrtft: short trim
longft: long trim
maf: mass air flow
vss: vehicle speed
ipw: injector pulse
idc: injector duty
frp: fuel rail pressure
lpfp: fuel feed pressure
hpfp: fuel rail pressure
kr: knock retard
vbat: battery voltage
vbatt: battery voltage
ubat: battery voltage
vpwr: module voltage
sparkadv: spark advance
aspark: spark advance
ladedruck: boost pressure
zundwinkel: spark angle
zuendwinkel: spark angle
einspritzzeit: injector pulse
lambdasonde: o2
ansauglufttemperatur: intake air temperature
dk: throttle
egt: exhaust temperature
egts: exhaust temperature
oldruck: oil pressure
oltemperatur: oil temperature
oltemp: oil temperature
kmh: speed
kph: speed
mph: speed
alchpct: ethanol content
fli: fuel level
eqrat: lambda ratio
eqr: lambda ratio
loadpct: load
nmot: engine rotation
pman: manifold pressure
pmap: manifold pressure
pamb: ambient pressure
tmot: coolant temperature
tans: intake air temperature
prail: rail pressure
ubatt: battery voltage
vfzg: vehicle speed
"""

#: Words that say nothing of which channel it is.
NEUTRAL = listed(
    """
    a abs absolute and at average avg blade body calc calculated capteur ch channel commanded_by das
    data de deg degree degrees del der die du el et filter filtered final for gauge grad housing ii in
    input la le main main1 mean mode01 number obd obd2 of output pct percent pid plate primaire primary
    raw rel relative sae sensor sensors signal smoothed sonda sonde the total und val valeur valor value
    volumetric wert y
    """
)


def _table(text: str) -> dict[str, tuple[str, ...]]:
    """Lines of “head: words”, a line that is set in going on with the one before."""
    found = {}
    for line in text.strip().replace("\n  ", " ").splitlines():
        head, _, words = line.partition(": ")
        found[head] = tuple(words.split())
    return found


WORDS: dict[str, tuple[str, ...]] = {
    word: (idea,) for idea, words in _table(_IDEAS).items() for word in words
} | _table(_FORMS)

"""Run sheet: the ordered steps of this job, with what they need and what is told at the end. Uses fuel and
below.
"""

from .access import ACCESS
from .applies import FACTS_OF_A_JOB, WHEN, applying, brought_in_by, facts_of_job, why_absent
from .asked import (
    FACES,
    AccessAsked,
    Asked,
    BoardAsked,
    BoardRow,
    CheckRow,
    ChecksAsked,
    CodesAsked,
    CompressionAsked,
    GroundsAsked,
    OutputsAsked,
    PinsAsked,
    PlugAsked,
    PlugsAsked,
    RefitAsked,
    RotorAsked,
    SealsAsked,
    SetAsked,
    SidesAsked,
    TimingAsked,
    TorqueAsked,
    WrenchAtHand,
)
from .begun import EARLIER, LOOKS, ON_IT, Memory, alters, mistaken, off, opens_fuel_at, remembered
from .besides import KINDS as BESIDE_KINDS
from .besides import BesideTyped, numbered, opened_for
from .complaints import complaints_in
from .first_start_kinds import BY_KIND_AT_START
from .fit_injectors import direct_ohms
from .gate import BARS, PRIMES, WAY_OUT, Act, Standing, act_of, bars, may
from .handing_over import LAW, in_the_tank, law, lights_of, what_to_feed
from .injector_held import ShelfInjector
from .injector_plan import InjectorPlan, plan_injectors
from .injectors_unknown import cannot_feed, nothing_to_size, stock_stays
from .linkage import CAUTION, plan_rod
from .make_safe import FUEL_GATE
from .model import WITH_MEANS, Begun, Beside, Change, EvidenceKind, Kit, RunSheet, SheetVehicle, Step
from .opening import CAUTIONS
from .parts import Stocked, parts_plan
from .rests import ASKED_OTHERWISE, FACTS, OF_ONE_DEVICE, RESTS, differs, facts_of, rests
from .sheet import build, every_step, in_usual_time, revise
from .state import PARTS, VehicleState, one_state
from .torque import Fastener, Wrench, choose_wrench, torque_call, wrench_call
from .way_back import BY_KIND, Undone, fitted, way_back

__all__ = [
    "ACCESS",
    "ASKED_OTHERWISE",
    "BARS",
    "BESIDE_KINDS",
    "BY_KIND",
    "BY_KIND_AT_START",
    "CAUTION",
    "CAUTIONS",
    "EARLIER",
    "FACES",
    "FACTS",
    "FACTS_OF_A_JOB",
    "FUEL_GATE",
    "LAW",
    "LOOKS",
    "OF_ONE_DEVICE",
    "ON_IT",
    "PARTS",
    "PRIMES",
    "RESTS",
    "WAY_OUT",
    "WHEN",
    "WITH_MEANS",
    "AccessAsked",
    "Act",
    "Asked",
    "Begun",
    "Beside",
    "BesideTyped",
    "BoardAsked",
    "BoardRow",
    "Change",
    "CheckRow",
    "ChecksAsked",
    "CodesAsked",
    "CompressionAsked",
    "EvidenceKind",
    "Fastener",
    "GroundsAsked",
    "InjectorPlan",
    "Kit",
    "Memory",
    "OutputsAsked",
    "PinsAsked",
    "PlugAsked",
    "PlugsAsked",
    "RefitAsked",
    "RotorAsked",
    "RunSheet",
    "SealsAsked",
    "SetAsked",
    "SheetVehicle",
    "ShelfInjector",
    "SidesAsked",
    "Standing",
    "Step",
    "Stocked",
    "TimingAsked",
    "TorqueAsked",
    "Undone",
    "VehicleState",
    "Wrench",
    "WrenchAtHand",
    "act_of",
    "alters",
    "applying",
    "bars",
    "brought_in_by",
    "build",
    "cannot_feed",
    "choose_wrench",
    "complaints_in",
    "differs",
    "direct_ohms",
    "every_step",
    "facts_of",
    "facts_of_job",
    "fitted",
    "in_the_tank",
    "in_usual_time",
    "law",
    "lights_of",
    "may",
    "mistaken",
    "nothing_to_size",
    "numbered",
    "off",
    "one_state",
    "opened_for",
    "opens_fuel_at",
    "parts_plan",
    "plan_injectors",
    "plan_rod",
    "remembered",
    "rests",
    "revise",
    "stock_stays",
    "torque_call",
    "way_back",
    "what_to_feed",
    "why_absent",
    "wrench_call",
]

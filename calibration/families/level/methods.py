"""Level: by displacer with weights and a wet run, and by differential pressure."""

from __future__ import annotations

from dataclasses import replace

from calibration.engine.method.conditions import run_outside, site_says
from calibration.engine.method.method import (
    Field,
    Item,
    KitRole,
    Method,
    RunSpec,
    Step,
    WorksOut,
)
from calibration.families.level.hung import DECIMALS, UNIT_FIELD, UNIT_STEP
from calibration.families.level.kinds import WET_LIQUID, WET_STEP, WET_UPPER
from calibration.families.shared import limits, parts
from calibration.families.shared.loop.trims import Loop
from calibration.families.shared.pressure import CONNECT, DISCONNECT, PRESSURE
from calibration.families.shared.runs import RUNS, found_run, left_run

WEIGHTS = KitRole(id="weights", label="Set of weights", quantity="mass")
FALL = (
    "Weights fall and chambers hold pressure: isolate, drain and open only as permit and site "
    "procedure say; keep clear below."
)


_HUNG = {"kind": "weights", "start": "Hang {value}", "up": "Hang {value}", "down": "Hang {value}"}


DISPLACER_LEVEL = Method(
    id="displacer_level",
    version=1,
    title="Displacer level, weights and wet run",
    called="weights and wet run",
    fits="A displacer with zero and span screws: dry with weights, then with liquid.",
    own=Loop(screws=True),
    runs=(
        found_run(title="As found, weights", **_HUNG),
        left_run(title="As left, weights", **_HUNG),
        RunSpec(
            id="wet_run",
            title="Wet run",
            kind="liquid",
            within="It follows the liquid both ways.",
            start="Bring the level to {value} and hold",
            up="Bring the level up to {value} and hold",
            down="Let the level down to {value} and hold",
        ),
    ),
    steps=(
        parts.kit(WEIGHTS, parts.METER, names="weights and meter"),
        Step(
            id="weights",
            stage="plan",
            kind="checklist",
            title="Weights to hang",
            instruction="Make up the weights that stand for the displacer in its liquid.",
            why="A weight equals the displacer less the buoyancy at that level.",
            works_out=WorksOut(
                operation="displacer.weights", shows=("volume_l", "heavy_g", "light_g")
            ),
            items=(
                Item(id="density", label="Density is that of the liquid at its temperature"),
                Item(id="made", label="Weights made up, hanger counted in"),
            ),
        ),
        parts.OPERATOR,
        parts.BYPASS,
        Step(
            id="isolate",
            stage="safe",
            kind="checklist",
            title="Isolate and drain the chamber",
            instruction="Isolate the chamber, let the pressure off, drain it, unhook the "
            "displacer.",
            why="Only the weights may pull on the torque tube.",
            caution=FALL,
            items=(
                Item(id="closed", label="Both isolation valves closed"),
                Item(id="vented", label="Vented and drained to a safe place"),
                Item(id="off", label="Displacer unhooked and kept safe"),
            ),
        ),
        parts.IDENTITY,
        parts.STATE,
        parts.connect(
            "Hang the first weight and put the meter in the loop.",
            "From here on the weights take the place of the displacer.",
            FALL,
            label="Weights hung",
        ),
        parts.AMBIENT,
        parts.WARM_UP,
        parts.as_found("Lower each weight gently; let it stop swinging."),
        parts.JUDGE,
        *parts.adjust("The output moves with each turn. Only with the loop in manual."),
        parts.disconnect("Take the weights off and hook the displacer in.", FALL),
        Step(
            id="wet_run",
            stage="left",
            kind="capture",
            title="Wet run",
            instruction="Move the level up, a little past the top, and down again.",
            why="Weights do not show whether the displacer rubs or sticks; liquid does.",
            caution="Watch the chamber and its vent while filling: no overflow, no pressure.",
            run="wet_run",
            only_if=site_says("wet_run"),
        ),
        Step(
            id="wet_judge",
            stage="left",
            kind="decide",
            title="Decision on the wet run",
            instruction="With liquid it is outside: stop, or put it back with eyes open.",
            why="What weights do not show is friction, build-up or another density.",
            run="wet_run",
            judges="check",
            only_if=run_outside("only if it is outside with liquid"),
        ),
        parts.restore(
            parts.VALVES, parts.COVERS, Item(id="level", label="Level shown agrees with the glass")
        ),
        parts.UNBYPASS,
        parts.SIGN,
    ),
    parameters=limits.parameters(
        limits.yes_or_no("wet_run", "Wet run with liquid", "yes"),
        stable_band_percent="0.1",
        overshoot_percent="5",
    ),
    sources=parts.SOURCES + " Weights: Archimedes' principle.",
)

_TAKEN_OFF = {
    "kind": "hung",
    "start": "Hang {value}",
    "up": "Take off until {value} hangs",
    "down": "Add until {value} hangs",
}
LIQUID = Step(
    id=WET_STEP,
    stage="left",
    kind="record",
    part="environment",
    title="Which liquid",
    instruction="Say with which liquid the wet run is taken, and how well its level is read.",
    why="Ranged for one density and filled with another it must read otherwise: that is right, "
    "not an error.",
    fields=(
        Field(
            id=WET_LIQUID,
            barred="What is right in this liquid is worked out from it.",
            label="Density in the chamber",
            kind="number",
            unit="kg/m³",
            usual="density",
        ),
        Field(
            id=WET_UPPER,
            barred="What is right in this liquid is worked out from it.",
            label="Density of the liquid above, for an interface",
            kind="number",
            unit="kg/m³",
            usual="upper_density",
        ),
        Field(
            id="glass_within",
            barred="What the wet run is worth hangs on it.",
            label="Level glass is read to ±",
            kind="number",
            unit="%",
        ),
    ),
    only_if=site_says("wet_run"),
)
#: As it was: for jobs that began with it.
DISPLACER_LEVEL_1 = DISPLACER_LEVEL
DISPLACER_LEVEL_2 = replace(
    DISPLACER_LEVEL_1,
    version=2,
    own=Loop(screws=True, by_ends=True),
    runs=(
        found_run(title="As found, weights", **_TAKEN_OFF),
        left_run(title="As left, weights", **_TAKEN_OFF),
        DISPLACER_LEVEL_1.run("wet_run"),
    ),
    steps=tuple(
        new
        for step in DISPLACER_LEVEL_1.steps
        for new in (
            (LIQUID, step)
            if step.id == "wet_run"
            else (replace(step, only_if=parts.SMART_ONLY),)
            if step is parts.STATE
            else (step,)
        )
    ),
)

MARKED = Step(
    id=UNIT_STEP,
    stage="plan",
    kind="record",
    title="What the weights are marked in",
    instruction="Say in which unit the weights of the set are marked.",
    why="A weight is made up in the unit that stands on it, and not converted by head.",
    fields=(
        Field(
            id=UNIT_FIELD,
            barred="What hangs on it counts by it.",
            label="Marked in",
            choices=tuple(DECIMALS),
        ),
    ),
)
DISPLACER_LEVEL_3 = replace(
    DISPLACER_LEVEL_2,
    version=3,
    steps=tuple(
        new
        for step in DISPLACER_LEVEL_2.steps
        for new in ((MARKED, step) if step.id == "weights" else (step,))
    ),
)

DISPLACER_LEVEL = parts.plainer(DISPLACER_LEVEL_3)

DP_LEVEL_1 = Method(
    id="dp_level",
    version=1,
    title="Level by differential pressure",
    called="level range and points",
    fits="A differential pressure transmitter on a vessel: wet or dry leg, flush or remote seals.",
    runs=RUNS,
    steps=(
        parts.kit(PRESSURE, parts.METER, names="the pressure reference and the meter"),
        parts.OPERATOR,
        parts.BYPASS,
        parts.ISOLATE,
        parts.IDENTITY,
        Step(
            id="settings",
            stage="identify",
            kind="record",
            title="Compare the range set with the vessel",
            instruction="Read the range set in the device before anything is changed.",
            why="Heights and densities decide the range: a wet leg lifts the zero, a transmitter "
            "below the tap suppresses it.",
            fields=(parts.LOWER, parts.UPPER, parts.DAMPING),
            works_out=WorksOut(
                operation="level.range",
                shows=("lower_range_value_kpa", "upper_range_value_kpa", "zero"),
                computed=(("lower", "lower_range_value_kpa"), ("upper", "upper_range_value_kpa")),
            ),
        ),
        parts.STATE,
        CONNECT,
        parts.AMBIENT,
        parts.WARM_UP,
        parts.DAMPING_OFF,
        parts.as_found("Keep the wet leg full: an empty leg looks like a full vessel."),
        parts.JUDGE,
        parts.WRITE_BACK,
        *parts.adjust("The loop current moves with every write. Only with the loop in manual."),
        DISCONNECT,
        parts.DAMPING_BACK,
        parts.restore(
            Item(id="leg", label="Wet leg or seals full, no gas in the lines"),
            parts.VALVES,
            parts.COVERS,
            parts.SETTINGS,
        ),
        parts.UNBYPASS,
        parts.SIGN,
    ),
    parameters=limits.parameters(),
    sources=parts.SOURCES + " Range: hydrostatics.",
)
DP_LEVEL = parts.plainer(DP_LEVEL_1)

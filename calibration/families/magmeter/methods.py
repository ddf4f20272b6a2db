"""One method: an electromagnetic flow meter is verified with a plug-in tester."""

from __future__ import annotations

from typing import Any

from calibration.engine.method.conditions import run_outside
from calibration.engine.method.method import Field, Item, KitRole, Method, RunSpec, Step
from calibration.families.magmeter.facts import TESTER
from calibration.families.magmeter.shape import wanted
from calibration.families.magmeter.words import LIQUID, LIVE, ROLE, RUN_FIELDS, Plugging, Testing
from calibration.families.shared import differential, limits, parts
from calibration.families.shared.runs import found_run

DEAD = (
    "Mains inside. Power off, secured, proven dead at the terminals each time before hands go in; "
    "who may open it is said by site procedure, local code and licence."
)


def _off(id: str, stage: str, why: str) -> Step:
    return Step(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="checklist",
        title="Power off, proven off",
        instruction="Switch it off, secure it, prove at the terminals that it is dead.",
        why=why,
        caution=DEAD,
        items=(
            Item(id="off", label="Switched off and secured", must=True),
            Item(id="dead", label="Proven dead at the terminals", must=True),
        ),
    )


def _on(id: str, stage: str, title: str, what: str, label: str, **more: Any) -> Step:
    return Step(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="put_on",
        title=title,
        instruction=what,
        why="What was opened or moved has to come back.",
        on_label=label,
        **more,
    )


def _back(id: str, title: str, what: str, ends: str, **more: Any) -> Step:
    return Step(
        id=id, stage="return", kind="take_off", title=title, instruction=what, ends=ends, **more
    )


IDENTITY = Step(
    id="meter_identity",
    stage="identify",
    kind="checklist",
    title="The right meter",
    instruction="Under power: compare what the meter says of itself with the record.",
    why="A tester compares with stored values: those of this meter and no other.",
    items=(
        Item(id="tag", label="Tag in the meter is that on record"),
        Item(id="size", label="{build}, {size} mm"),
        Item(id="stored", label="Stored factory values are those of the file or record", must=True),
        Item(id="full", label="Pipe full of liquid"),
    ),
)
THE_LIQUID = Step(
    id=LIQUID,
    stage="identify",
    kind="record",
    part="environment",
    title="The liquid",
    instruction="Note conductivity and temperature of the liquid.",
    why="Resistance between electrodes goes with one, copper of the coil with the other.",
    fields=(
        Field(id="conductivity", label="Conductivity", kind="number", unit="µS/cm"),
        Field(id="liquid_c", label="Temperature", kind="number", unit="°C"),
    ),
)
STATIC = Step(
    id="static",
    stage="identify",
    kind="checklist",
    title="Static protection",
    instruction="Before any board is touched.",
    why="A spark that nobody feels destroys an input.",
    items=(
        Item(id="strap", label="Wrist strap on, on the same earth as the meter", must=True),
        Item(id="dry", label="Terminal boxes dry; no rain into them"),
    ),
)
POWERED = Step(
    id="tester_power",
    stage="found",
    kind="checklist",
    title="Power on for the test",
    instruction="Hands out, covers held; power on, as the tester asks for it.",
    why="The tester drives the coil and reads the electronics under power.",
    caution=DEAD,
    anew="round",
    order="test",
    items=(Item(id="on", label="Power on, nobody touches anything inside"),),
)
TESTER_ASKS = Step(
    id=RUN_FIELDS,
    stage="found",
    kind="record",
    title="What the tester asks for",
    instruction="Fill in what the tester asks for; without it its report is not whole.",
    why="Copper is turned to 20 °C by the temperature that stands here.",
    anew="round",
    fields=(
        Field(id="program", label="Version of the tester's program"),
        Field(
            id="coil_c",
            barred="The resistance of the coil counts by it.",
            label="Temperature of the coil",
            kind="number",
            unit="°C",
        ),
    ),
)
TEST = Testing(
    id="tester_run",
    stage="found",
    kind="testing",
    title="The test",
    instruction="Let the tester go through its lines.",
    why="A line that is left out is a verification that is none.",
)
TELL = differential.step("A sensor is not changed for a line that means another liquid.", wanted)
LIVE_JUDGE = Step(
    id="live_judge",
    stage="return",
    kind="decide",
    judges="check",
    title="The control room differs",
    instruction="The output does not arrive as it is given: find the wire, or stop.",
    why="A wire that is not back is found here, or by the next fault.",
    run=LIVE,
    only_if=run_outside("only if the control room differs"),
)
VERIFY = Method(
    id="magmeter_verify",
    version=1,
    title="Verify an electromagnetic flow meter with a plug-in tester",
    called="tester",
    fits="Coil, electrodes, electronics and outputs against the stored values of the maker.",
    sets=False,
    paper="Verification certificate",
    outcomes={
        "within": "verified",
        "limited": "tested, not verified: kept in service",
        "failed": "tested, not verified: out of service",
        "stopped": "tested, not verified",
    },
    runs=(
        found_run(title="Lines of the tester", kind="tester_lines"),
        RunSpec(
            id=LIVE,
            title="Output in the control room",
            kind="live_currents",
            role="check",
            start="{value}",
            up="{value}",
        ),
    ),
    steps=(
        parts.kit(KitRole(id=ROLE, label="Plug-in tester", quantity=TESTER), names="the tester"),
        parts.OPERATOR,
        parts.BYPASS,
        parts.IDENTITY,
        IDENTITY,
        THE_LIQUID,
        _off("off_for_covers", "identify", "The first time: before the covers."),
        _on(
            "covers_open",
            "identify",
            "Covers open",
            "Open the covers.",
            "Covers open",
            button="Covers are open",
        ),
        STATIC,
        _on(
            "wires_parked",
            "identify",
            "Output wires parked",
            "Take the output wires off one by one; park each where it belongs, marked.",
            "Output wires parked: the loop is dead",
            button="Wires are parked",
        ),
        _off("off_for_plugs", "found", "The second time: before the plugs."),
        Plugging(
            id="plugs_in",
            stage="found",
            kind="plugging",
            title="Plugs in",
            instruction="Plug by plug, in this order.",
            why="The order decides what is under power when.",
            caution=DEAD,
        ),
        POWERED,
        TESTER_ASKS,
        TEST,
        TELL,
        parts.JUDGE,
        _off("off_for_undoing", "return", "The third time: before it is undone."),
        Plugging(
            id="plugs_out",
            stage="return",
            kind="plugging",
            title="Plugs out",
            instruction="Plug by plug, the other way round.",
            why="Sensor side back first: the tester checks it while the outputs are parked.",
            caution=DEAD,
            way="out",
        ),
        Step(
            id="reconnection",
            stage="return",
            kind="checklist",
            title="Sensor side reconnected",
            instruction="Let the tester check the reconnection, outputs still parked.",
            why="A coil or electrode wire left off measures nothing and shows a flow.",
            items=(Item(id="checked", label="Reconnection check in order"),),
        ),
        _back(
            "wires_back",
            "Output wires back",
            "Each wire back where it was, by its mark.",
            "wires_parked",
            button="Wires are back",
            order="wires_back",
            caution=DEAD,
        ),
        Step(
            id=LIVE,
            stage="return",
            kind="capture",
            title="Output live",
            instruction="Power on; the meter gives 4, 12 and 20 mA, the control room reads.",
            why="Only what arrives in the control room proves the wires.",
            caution="The loop current moves. Only with the loop in manual.",
            run=LIVE,
        ),
        LIVE_JUDGE,
        _back(
            "covers_shut",
            "Covers shut",
            "Covers and seals back, dry and tight.",
            "covers_open",
            button="Covers are shut",
        ),
        parts.restore(
            Item(id="alarm", label="No alarm, flow shown plausible"),
            Item(id="seals", label="Seals and cable glands tight"),
        ),
        parts.UNBYPASS,
        parts.SIGN,
    ),
    parameters=limits.parameters(
        without=("points", "pattern", "cycles", "overshoot_percent", "warm_up_minutes"),
        interval_days="365",
        stable_band_percent="5",
        stable_dwell_s="1",
        adjust_share="100",
    ),
    sources="Stored values: the maker. Copper: IEC 60028. Uncertainty: JCGM 100. Decision: "
    "JCGM 106, ILAC-G8.",
)

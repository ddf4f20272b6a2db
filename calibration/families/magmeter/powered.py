"""The verification with power as a state: off, and proven dead there, each time hands go in.

The first act under an open cover is the proof at the terminals; the tester looks at the meter
under power; the sensor side is proven before the outputs come back; covers are shut before the
last power on.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from calibration.engine.method.method import Item, Method, Step
from calibration.families.magmeter.methods import DEAD, STATIC, VERIFY
from calibration.families.magmeter.words import Plugging

_BY = {step.id: step for step in VERIFY.steps}
_SENSOR = ("coil", "electrode", "cable")


def _off(id: str, stage: str, why: str, **more: Any) -> Step:
    return Step(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="checklist",
        title="Power off",
        instruction="Switch it off at its isolator, lock and tag it; keep the waiting time.",
        why=why,
        caution=DEAD,
        power="off",
        items=(Item(id="off", label="Switched off, locked and tagged; waited", must=True),),
        **more,
    )


def _dead(id: str, stage: str, **more: Any) -> Step:
    return Step(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="checklist",
        title="Proven dead at the terminals",
        instruction="The first act inside: prove it with a voltage tester that was proved.",
        why="A switch that is off is not a terminal that is dead.",
        caution="Not dead: nobody reaches in. Guard the place, fetch the electrician.",
        hands=True,
        items=(
            Item(id="before", label="Voltage tester proved on a live source", must=True),
            Item(id="dead", label="Terminals dead", must=True),
            Item(id="after", label="Voltage tester proved again", must=True),
        ),
        **more,
    )


def _on(id: str, stage: str, title: str, why: str, **more: Any) -> Step:
    return Step(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="checklist",
        title=title,
        instruction="Hands out, terminals covered, lock off; then power on.",
        why=why,
        caution=DEAD,
        power="on",
        items=(Item(id="on", label="Hands out, power on"),),
        **more,
    )


def _plugs(id: str, stage: str, title: str, way: str, *which: str, why: str) -> Plugging:
    return Plugging(
        id=id,
        stage=stage,  # type: ignore[arg-type]
        kind="plugging",
        title=title,
        instruction="One by one, in this order.",
        why=why,
        caution=DEAD,
        hands=True,
        way=way,  # type: ignore[arg-type]
        which=which,
    )


_ANEW = {"anew": "test"}
STEPS = (
    *(_BY[id] for id in ("kit", "operator", "bypass", "identity")),
    _off("off_for_covers", "identify", "Off 1: before the covers."),
    replace(_BY["covers_open"], hands=True),
    _dead("dead_for_lead", "identify"),
    _plugs(
        "lead_in", "identify", "Tester's lead in", "in", "board",
        why="The tester asks the meter who it is before anything else moves.",
    ),
    _on("on_for_identity", "identify", "Power on, covers open", "The tester reads the meter."),
    _BY["meter_identity"],
    _BY["liquid"],
    _off("off_for_plugs", "found", "Off 2: before the plugs.", **_ANEW),
    _dead("dead_for_plugs", "found", **_ANEW),
    replace(STATIC, stage="found", hands=True),
    _plugs(
        "plugs_in", "found", "Sensor plugs in", "in", *_SENSOR,
        why="The order decides what is under power when.",
    ),
    replace(
        _BY["wires_parked"],
        stage="found",
        hands=True,
        caution="Wires with a supply of their own stay live with the meter off: fuse it off, and "
        "prove these wires dead by themselves. Never park them live.",
    ),
    _plugs(
        "output_in", "found", "Output lead on", "in", "output",
        why="The tester reads the currents that the meter gives.",
    ),
    replace(_BY["tester_power"], power="on", title="Power on for the test"),
    *(_BY[id] for id in ("tester_fields", "tester_run", "tell_apart", "judge")),
    _off("off_for_undoing", "return", "Off 3: before it is undone."),
    _dead("dead_for_undoing", "return"),
    _plugs(
        "plugs_out", "return", "Sensor side back; the tester's lead stays", "out", *_SENSOR,
        "output",
        why="The tester checks the sensor side while the outputs are parked.",
    ),
    _on("on_for_check", "return", "Power on for the check", "The tester checks what is back."),
    _BY["reconnection"],
    _off("off_for_wires", "return", "Off 4: before lead and wires."),
    _dead("dead_for_wires", "return"),
    _plugs(
        "lead_out", "return", "Tester's lead out", "out", "board",
        why="Nothing of the tester stays in the meter.",
    ),
    replace(_BY["wires_back"], hands=True),
    replace(_BY["covers_shut"], hands=True),
    _on("on_for_service", "return", "Power on, covers shut", "Only a shut meter goes live."),
    replace(_BY["live_output"], instruction="The meter gives 4, 12 and 20 mA, the control room "
        "reads."),
    *(_BY[id] for id in ("live_judge", "restore", "unbypass", "sign")),
)  # fmt: skip
VERIFY_POWERED: Method = replace(VERIFY, version=2, steps=STEPS)

"""A method is data: stages, steps, and parameters with their source."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.gas.cylinder import Purpose

StageId = Literal["plan", "safe", "identify", "found", "adjust", "left", "return"]
StepKind = Literal[
    "kit",
    "record",
    "checklist",
    "put_on",
    "take_off",
    "timer",
    "capture",
    "decide",
    "adjust",
    "set",
    "gas_set",
    "sign",
]
RunInput = Literal["instrument", "weights", "percent", "fixed_current", "gas"]
STAGES: tuple[tuple[StageId, str], ...] = (
    ("plan", "Plan"),
    ("safe", "Make safe"),
    ("identify", "Identify"),
    ("found", "As found"),
    ("adjust", "Adjust"),
    ("left", "As left"),
    ("return", "Return"),
)


@dataclass(frozen=True, kw_only=True)
class Item:
    """One line to confirm."""

    id: str
    label: str


@dataclass(frozen=True, kw_only=True)
class Field:
    """One value to write down."""

    id: str
    label: str
    kind: Literal["text", "number"] = "text"
    unit: str = ""
    required: bool = True
    #: name of the instrument fact that it must agree with
    must_match: str = ""
    hint: str = ""
    #: channel of a detector that it is about; it falls away where there is none
    channel: int = -1
    #: parameter with the most that is accepted
    most: str = ""
    question: str = "The record says {expected}. Is this the right instrument, and read right?"


@dataclass(frozen=True, kw_only=True)
class KitRole:
    """A reference that the method needs."""

    id: str
    label: str
    #: what the reference measures; ``input`` and ``output`` follow the instrument's units
    quantity: str
    #: for gas: what it is applied for, and on which channel
    purpose: Purpose = "span"
    channel: int = 0


@dataclass(frozen=True, kw_only=True)
class SetItem:
    """One setting to write to the device and to read back."""

    #: name of the setting, as in the settings found and on record
    id: str
    label: str
    unit: str = ""
    #: ``record``: what the instrument's record says; ``found``: what was found; else the value
    to: str = "record"


@dataclass(frozen=True, kw_only=True)
class RunSpec:
    """A run of readings: what is applied and how it is said."""

    id: str
    title: str
    input: RunInput = "instrument"
    start: str = "Start at {value} and hold"
    up: str = "Bring the pressure up to {value} and hold"
    down: str = "Bring the pressure down to {value} and hold"
    #: own points in percent and own pattern, instead of the parameters
    percents: tuple[str, ...] = ()
    pattern: str = ""
    #: for gas: what is applied, one a point, and the channel that is read
    gases: tuple[Purpose, ...] = ()
    channel: int = 0
    #: the reading must be clear of gas before it counts
    clear: bool = False


PRESSURE_RUNS = (
    RunSpec(id="as_found", title="As found"),
    RunSpec(id="as_left", title="As left"),
)


@dataclass(frozen=True, kw_only=True)
class Step:
    """One step of a stage."""

    id: str
    stage: StageId
    kind: StepKind
    title: str
    instruction: str
    why: str = ""
    caution: str = ""
    items: tuple[Item, ...] = ()
    fields: tuple[Field, ...] = ()
    roles: tuple[KitRole, ...] = ()
    #: for put_on: what is on afterwards; for take_off: the put_on step that it ends
    on_label: str = ""
    on_kind: Literal["bypass", "connection", "fixed", "adapter"] = "connection"
    ends: str = ""
    #: for a timer: the parameter with its length in minutes
    minutes: str = ""
    run: str = ""
    #: ``adjusting``: after the decision to adjust. ``left_outside``, ``wet_outside``: when that
    #: run fails. ``differs``: a setting found differs from the record; ``damped``: damping was
    #: found on. ``wet_run``, ``loop_check``: the parameter of that name says yes.
    #: ``channel_adjusting``: its channel needs it. ``replacing``: the sensor is replaced.
    #: ``found_outside``: the as-found readings fail. ``air_outside``: the last clean air fails.
    only_if: Literal[
        "",
        "adjusting",
        "left_outside",
        "wet_outside",
        "differs",
        "damped",
        "loop_check",
        "wet_run",
        "channel_adjusting",
        "unless_adjusting",
        "replacing",
        "found_outside",
        "air_outside",
        "nitrogen_zero",
        "air_zero",
    ] = ""
    #: what a rig is told when the step is done
    order: Literal[
        "", "release", "adapter_on", "adapter_off", "inhibit_on", "inhibit_off", "reset"
    ] = ""
    #: channel of a detector that it is about; steps for channels that it does not have fall away
    channel: int = 0
    #: for gas_set: which end is set, and with which gas
    end: Literal["zero", "span"] = "zero"
    gas: Purpose = "zero"
    #: steps in a row with the same word are confirmed by one tap
    together: str = ""
    #: for set: what is written
    sets: tuple[SetItem, ...] = ()
    #: an operation on the settings on record and on what is recorded in this step, which of its
    #: results are shown, which belongs to which field, and which must be true (with the question)
    operation: str = ""
    shows: tuple[str, ...] = ()
    computed: tuple[tuple[str, str], ...] = ()
    must_hold: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True, kw_only=True)
class ParameterSpec:
    """A limit or setting that a site or a manual may change."""

    id: str
    label: str
    default: str
    unit: str = ""
    kind: Literal["number", "choice", "points"] = "number"
    choices: tuple[str, ...] = ()
    least: str = "0"
    most: str = "100000"


@dataclass(frozen=True, kw_only=True)
class Method:
    """A way of calibrating one family of instruments."""

    id: str
    version: int
    title: str
    steps: tuple[Step, ...]
    parameters: tuple[ParameterSpec, ...]
    sources: str
    runs: tuple[RunSpec, ...] = PRESSURE_RUNS
    #: ``trims``: hop by hop, zero and span apart. ``screws``: zero and span move each other.
    #: ``none``: what is out of tolerance is replaced.
    adjusting: Literal["trims", "screws", "none", "gas"] = "trims"
    #: one line about when it is the right one
    fits: str = ""

    def run(self, run_id: str) -> RunSpec:
        """Return a run by id; the first one for a name that is none."""
        wanted = run_id.replace("base", "as_found")
        return next((r for r in self.runs if r.id == wanted), self.runs[0])

    def step(self, step_id: str) -> Step | None:
        """Return a step by id, or none."""
        return next((s for s in self.steps if s.id == step_id), None)

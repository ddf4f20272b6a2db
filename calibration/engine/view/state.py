"""What a screen shows of a job: everything is worked out, nothing is left to compute."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.engine.method import Role
from calibration.engine.view.axis import Axis
from calibration.engine.view.blocks import (
    BenchLink,
    Block,
    Characteristic,
    Column,
    Mark,
    Task,
    Together,
)
from calibration.engine.view.came_to import Asked, Outcome
from calibration.engine.view.lines import Limit, OnState, StageState, TimerState

StepStatus = Literal["done", "now", "blocked", "skipped"]


@dataclass(frozen=True, kw_only=True)
class FieldState:
    """One value to write down."""

    id: str
    label: str
    unit: str
    number: bool
    required: bool
    value: str
    expected: str
    hint: str
    #: it is one of these; typed where there are none
    choices: tuple[str, ...]
    #: what it usually is, by the record
    usual: str
    question: str
    #: reasons that are often given for going on; one tap fills them in
    often: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class ItemState:
    """One line to confirm."""

    id: str
    label: str
    done: bool
    event: str
    #: what was missing or failed; empty where it is so
    failed: str


@dataclass(frozen=True, kw_only=True)
class RoleState:
    """One reference to choose."""

    id: str
    label: str
    quantity: str
    chosen: str
    detail: str
    ratio: str
    warning: str
    #: what can be done where there is none of it, and whether that is done
    instead: str
    without: bool


@dataclass(frozen=True, kw_only=True)
class SetState:
    """One setting to write to the device and to read back."""

    id: str
    label: str
    unit: str
    found: str
    to_write: str
    read_back: str
    done: bool


@dataclass(frozen=True, kw_only=True)
class ComputedLine:
    """One line of what was worked out for a step."""

    label: str
    value: str
    given: bool


@dataclass(frozen=True, kw_only=True)
class StepState:
    """One step."""

    id: str
    stage: str
    kind: str
    title: str
    instruction: str
    why: str
    caution: str
    status: StepStatus
    blocked_by: str
    items: tuple[ItemState, ...]
    fields: tuple[FieldState, ...]
    roles: tuple[RoleState, ...]
    sets: tuple[SetState, ...]
    computed: tuple[ComputedLine, ...]
    order: str
    may_wait: bool
    #: what is said where its values cannot be had here; empty where they must be
    if_not: str
    #: lines that are not so are said, and the job may go on without them
    may_go_without: bool
    #: what the device refused here, newest last; why a wait is often not needed
    refused: tuple[str, ...]
    often: tuple[str, ...]
    #: in a round, the job is left from here: what is left of it is stated and the next begins
    leaves: bool
    run: str
    timer_started_at: str
    timer_ends_at: str
    timer_minutes: str
    summary: str
    event: str


@dataclass(frozen=True, kw_only=True)
class Station:
    """One station of the loop strip."""

    id: str
    label: str
    value: str
    unit: str
    expected: str
    error: str
    bad: bool
    remark: str
    figure: str


@dataclass(frozen=True, kw_only=True)
class PointState:
    """One point of a run."""

    index: int
    label: str
    direction: str
    cycle: int
    target: str
    target_value: str
    #: what a calibrator or a decade box is set to for it, in words
    equivalent: str
    #: input that a fixed current stands for; empty elsewhere
    stands_for: str
    approach: str
    applied: str
    ideal: str
    reading: str
    #: by what it is judged, where something was set before it was read; empty where it is itself
    counts_as: str
    digital: str
    indicated: str
    error: str
    #: the error as people of this trade say it: in °C for a sensor by itself, else in % of span
    error_text: str
    #: what the control room adds, where that is beyond the limit
    beside: str
    limit: str
    mark: Mark
    outside_probability: str
    source: str
    early: str
    event: str
    input_percent: float
    error_percent: float
    limit_percent: float


@dataclass(frozen=True, kw_only=True)
class RunState:
    """One run."""

    id: str
    role: Role
    #: a picture of error against range says something about it
    pictured: bool
    title: str
    input_unit: str
    output_unit: str
    indicated_unit: str
    output_label: str
    error_unit: str
    #: in what its errors are said and drawn
    axis: Axis
    #: what a rig is told at a point, and in which unit
    order: str
    scale: Literal["input", "percent"]
    points_to_type: tuple[str, ...]
    columns: tuple[Column, ...]
    points: tuple[PointState, ...]
    current: int
    taken: int
    complete: bool
    mark: Mark
    worst: str
    fit_zero: float
    fit_span: float
    fit_text: str
    #: zero shift and span error [% of span]; none where an end was not read
    zero: float | None
    span: float | None
    causes: tuple[str, ...]
    characteristics: tuple[Characteristic, ...]
    stations: tuple[Station, ...]


@dataclass(frozen=True, kw_only=True)
class CauseState:
    """One cause in words."""

    cause: str
    label: str
    size: str
    evidence: str
    remedy: str
    confidence: str


@dataclass(frozen=True, kw_only=True)
class Choice:
    """One possible decision."""

    id: str
    label: str
    recommended: bool
    needs_reason: bool
    why: str
    #: reasons that are often given: one tap fills them in
    often: tuple[str, ...] = ()
    #: kind of the form that it opens, among what may be said now; empty where there is none
    form: str = ""


@dataclass(frozen=True, kw_only=True)
class Judgement:
    """The verdict as sentences."""

    run: str
    mark: Mark
    headline: str
    text: str
    causes: tuple[CauseState, ...]
    hop: str
    advice: str
    outcome: str
    rule: str
    uncertainty: str
    probability_outside: str
    ratio: str
    critical_figure: str
    choices: tuple[Choice, ...]
    chosen: str
    chosen_reason: str


@dataclass(frozen=True, kw_only=True)
class Adjustment:
    """The adjustment to make now."""

    done: bool
    hop: str
    hop_label: str
    end: str
    action: Literal["trim", "check", "none"]
    title: str
    apply: str
    apply_value: str
    #: what a rig is told: to apply an input, or to fix the current of the device
    order: Literal["apply", "fix"]
    #: sent as applied where nothing is; empty elsewhere
    stands_for: str
    target: str
    #: what a rig is told to trim
    rig_hop: Literal["", "sensor", "output", "receiver", "transmitter"]
    #: output to set a screw to
    aim: str
    direction: str
    fields: tuple[str, ...]
    columns: tuple[Column, ...]
    passes_left: str
    advice: str
    history: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class Action:
    """The one next action."""

    step: str
    kicker: str
    title: str
    why: str
    caution: str
    then: str
    can_waive: bool


@dataclass(frozen=True, kw_only=True)
class Instrument:
    """The instrument in words."""

    tag: str
    serial: str
    description: str
    area: str
    range: str
    output: str
    tolerance: str
    tolerance_source: str
    input_unit: str
    output_unit: str
    smart: bool
    indicated: bool
    rig: bool
    school: str


@dataclass(frozen=True, kw_only=True)
class JobState:
    """Everything a screen needs of a job."""

    job: str
    seq: int
    status: Literal["open", "signed", "reviewed", "voided"]
    method: str
    method_version: int
    follows: str
    instrument: Instrument
    stages: tuple[StageState, ...]
    steps: tuple[StepState, ...]
    current_step: str
    action: Action
    as_found: RunState
    #: none where nothing is adjusted
    as_left: RunState | None
    extra_runs: tuple[RunState, ...]
    #: block in which the present run goes on by itself; empty when none does
    in_block: str
    #: the block in which it is read by hand, in turn with others; empty elsewhere
    by_turns: str
    #: block that the present run could go on in by itself; empty when none could
    block: str
    judgement: Judgement
    adjustment: Adjustment
    #: what the present step asks for in the way of its family; none for the engine's own steps
    task: Task | None
    #: what its family shows of the whole job
    blocks: tuple[Block, ...]
    #: calculators of the Bench that the present step leads to
    bench: tuple[BenchLink, ...]
    together: Together | None
    on: tuple[OnState, ...]
    timers: tuple[TimerState, ...]
    to_close: tuple[str, ...]
    #: it may end as opened by mistake
    may_void: bool
    notes: tuple[str, ...]
    limits: tuple[Limit, ...]
    last_undoable: str
    outcome: Outcome
    #: what is asked now, since something went wrong
    asked: tuple[Asked, ...]
    #: what may be said now where something is not as it should be
    mishaps: tuple[Asked, ...]
    #: whether the list of what an error may have affected is open or done; empty where none is
    follow_up: str
    #: where the clock of the server was changed between two entries
    clocks: tuple[str, ...]
    signed_by: str
    signed_at: str
    review: str
    opened_by: str
    opened_at: str

    @property
    def runs(self) -> tuple[RunState, ...]:
        """Return every run of the job."""
        left = (self.as_left,) if self.as_left is not None else ()
        return (self.as_found, *left, *self.extra_runs)

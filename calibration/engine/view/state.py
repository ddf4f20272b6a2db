"""What a screen shows of a job: everything is worked out, nothing is left to compute."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from calibration.engine.method.method import Role
from calibration.engine.view.asks import Choice, Form, Task, Value
from calibration.engine.view.axis import Axis
from calibration.engine.view.blocks import BenchLink, Block, Characteristic, Mark
from calibration.engine.view.lines import Limit, OnState, StageState, TimerState
from calibration.engine.view.outcome_view import Outcome

#: ``open``: it goes on beside the present step
StepStatus = Literal["done", "now", "open", "blocked", "skipped"]


@dataclass(frozen=True, kw_only=True)
class StepState:
    """One step, as a list of them shows it; what it asks for stands in its task."""

    id: str
    stage: str
    kind: str
    title: str
    status: StepStatus
    blocked_by: str
    run: str
    summary: str


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
    columns: tuple[Value, ...]
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
    #: what is to be done, the next first; the others may be done beside it
    tasks: tuple[Task, ...]
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
    #: what its family shows of the whole job
    blocks: tuple[Block, ...]
    #: calculators of the Bench that the present step leads to
    bench: tuple[BenchLink, ...]
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
    asked: tuple[Form, ...]
    #: what may be said now where something is not as it should be
    mishaps: tuple[Form, ...]
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
    def task(self) -> Task:
        """Return what is to be done next."""
        return self.tasks[0]

    @property
    def runs(self) -> tuple[RunState, ...]:
        """Return every run of the job."""
        left = (self.as_left,) if self.as_left is not None else ()
        return (self.as_found, *left, *self.extra_runs)

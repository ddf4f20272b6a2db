"""What a screen shows of a job: everything is worked out, nothing is left to compute."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from calibration.engine.method import Role

Mark = Literal["within", "near", "outside", "none"]
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
    question: str


@dataclass(frozen=True, kw_only=True)
class ItemState:
    """One line to confirm."""

    id: str
    label: str
    done: bool
    event: str


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
    #: in a round, the job is left from here: what is left of it is stated and the next begins
    leaves: bool
    run: str
    timer_started_at: str
    timer_ends_at: str
    timer_minutes: str
    summary: str
    event: str


@dataclass(frozen=True, kw_only=True)
class StageState:
    """One of the seven stages."""

    id: str
    title: str
    status: Literal["done", "now", "open"]
    done_share: float


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
class Characteristic:
    """One figure of a run's summary."""

    id: str
    label: str
    value: str
    unit: str
    figure: str


@dataclass(frozen=True, kw_only=True)
class Column:
    """One value that is typed: what it is called, its unit, and whether it must be there."""

    id: str
    label: str
    unit: str
    required: bool


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
class OnState:
    """Something that is still on."""

    step: str
    label: str
    since: str
    by: str
    limit_minutes: str
    ends_with: str
    kind: str


@dataclass(frozen=True, kw_only=True)
class TimerState:
    """A wait that runs."""

    step: str
    label: str
    ends_at: str


@dataclass(frozen=True, kw_only=True)
class LogLine:
    """One event in words."""

    id: str
    seq: int
    at: str
    by: str
    source: str
    text: str
    retracted: str
    can_retract: bool


@dataclass(frozen=True, kw_only=True)
class Sent:
    """One event as a client sends it."""

    kind: str
    data: Mapping[str, str]


@dataclass(frozen=True, kw_only=True)
class Together:
    """Steps in a row that one tap confirms: what is stated, and the events that say so."""

    heading: str
    title: str
    lines: tuple[str, ...]
    events: tuple[Sent, ...]
    orders: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class Row:
    """One line of a block: a name and what is said of it; ``strong`` is read from afar."""

    label: str
    value: str
    strong: bool = False


@dataclass(frozen=True, kw_only=True)
class Block:
    """Something that a family shows; a screen draws each kind in one way."""

    kind: Literal["rows", "table", "text", "timer"]
    title: str = ""
    text: str = ""
    rows: tuple[Row, ...] = ()
    columns: tuple[str, ...] = ()
    #: cells of a table, row by row
    cells: tuple[tuple[str, ...], ...] = ()
    #: what is thought of each row
    marks: tuple[Mark, ...] = ()
    #: for a timer: when it ends
    ends_at: str = ""


@dataclass(frozen=True, kw_only=True)
class Push:
    """A button beside the main one: what it says and the events that it sends."""

    label: str
    events: tuple[Sent, ...]


@dataclass(frozen=True, kw_only=True)
class Refusal:
    """A value that may not be set: why, whether it may be forced, and who has agreed."""

    step: str
    refused: str
    may_force: bool
    agreed: str
    #: what to do instead; what else could confirm it, in a word
    advice: str
    other: str


@dataclass(frozen=True, kw_only=True)
class Task:
    """What the present step asks for in the way of its family.

    ``send``: the main button sends ``events``. ``read``: values are taken, live as soon as they
    are steady or typed, and ``events`` are sent with them. ``set``: the same for what a device is
    set to; it is pressed by hand.
    """

    way: Literal["send", "read", "set"]
    #: what the main button says; ``typed`` where values are typed, ``in_round`` where this is the
    #: last look of a round and what is left of the job is stated with it
    label: str
    typed: str
    in_round: str
    blocks: tuple[Block, ...]
    #: kind of the event with the values, and the run and point that they are for
    kind: str
    run: str
    point: int
    columns: tuple[Column, ...]
    events: tuple[Sent, ...]
    others: tuple[Push, ...]
    refusal: Refusal | None
    #: reasons that are offered for taking a value before it is steady
    early: tuple[str, ...]
    #: channel that it is about, from 0; how long what is sent takes to tell [min]
    channel: int
    minutes: str
    #: for ``set``: zero or span, and what the device is to show afterwards
    end: str
    target: str


@dataclass(frozen=True, kw_only=True)
class Limit:
    """A parameter with its source."""

    id: str
    label: str
    value: str
    unit: str
    source: str


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
    status: Literal["open", "signed", "reviewed"]
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
    #: block that the present run could go on in by itself; empty when none could
    block: str
    judgement: Judgement
    adjustment: Adjustment
    #: what the present step asks for in the way of its family; none for the engine's own steps
    task: Task | None
    #: what its family shows of the whole job
    blocks: tuple[Block, ...]
    together: Together | None
    on: tuple[OnState, ...]
    timers: tuple[TimerState, ...]
    to_close: tuple[str, ...]
    notes: tuple[str, ...]
    limits: tuple[Limit, ...]
    last_undoable: str
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

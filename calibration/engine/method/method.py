"""A method is data: stages, steps, runs, and parameters with their source."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

StageId = Literal["plan", "safe", "identify", "found", "adjust", "left", "return"]
#: What a run is taken for. ``found``: before anything is changed. ``left``: the proof afterwards.
Role = Literal["found", "left", "check"]
STAGES: tuple[tuple[StageId, str], ...] = (
    ("plan", "Plan"),
    ("safe", "Make safe"),
    ("identify", "Identify"),
    ("found", "As found"),
    ("adjust", "Adjust"),
    ("left", "As left"),
    ("return", "Return"),
)


@dataclass(frozen=True)
class Condition:
    """When a step is part of a job.

    ``test`` takes the job and the step; ``words`` are shown while it is open whether it comes;
    ``by_plan`` tells that it is known from the beginning, by a choice of the site.
    """

    test: Callable[[Any, Any], bool]
    words: str = ""
    by_plan: bool = False


@dataclass(frozen=True, kw_only=True)
class Item:
    """One line to confirm."""

    id: str
    label: str
    #: the job cannot go on without it
    must: bool = False


@dataclass(frozen=True, kw_only=True)
class Field:
    """One value to write down."""

    id: str
    label: str
    kind: Literal["text", "number"] = "text"
    unit: str = ""
    #: it is one of these
    choices: tuple[str, ...] = ()
    #: setting on record that it usually is
    usual: str = ""
    required: bool = True
    #: why it has to be told, and "it could not be had" is no answer; empty where it is one
    barred: str = ""
    #: name of the instrument fact that it must agree with
    must_match: str = ""
    #: what is set counts by it: a difference that is accepted as it is bars setting
    governs: bool = False
    hint: str = ""
    #: channel of the instrument that it is about; it falls away where there is none
    channel: int = -1
    #: parameter with the most that is accepted
    most: str = ""
    question: str = "The record says {expected}. Is this the right instrument, and read right?"
    #: reasons that are often given for going on with a difference
    often: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class KitRole:
    """A reference that the method needs."""

    id: str
    label: str
    #: what the reference measures; ``input`` and ``output`` follow the instrument's units
    quantity: str
    channel: int = 0
    #: a source in which a run can go on by itself, for several instruments at once
    alone: bool = False
    #: what is done where the person has none of it; empty where it must be there
    instead: str = ""


@dataclass(frozen=True, kw_only=True)
class SetItem:
    """One setting to write to the device and to read back."""

    #: name of the setting, as in the settings found and on record
    id: str
    label: str
    unit: str = ""
    #: ``record``: what the instrument's record says; ``found``: what was found; a word that the
    #: family knows; else the value
    to: str = "record"
    #: writing it adjusts the instrument, and is done anew in each round of adjusting
    adjusts: bool = False


@dataclass(frozen=True, kw_only=True)
class RunSpec:
    """A run of readings: what is applied and how it is said."""

    id: str
    title: str
    #: name of the kind of run; empty for the usual one of the family
    kind: str = ""
    role: Role = "check"
    #: name of its readings once they are adjusted from: of an as-found run and its as-left run
    again: str = ""
    #: may only be read before anything is changed
    before: bool = False
    start: str = "Start at {value} and hold"
    up: str = "Bring the pressure up to {value} and hold"
    down: str = "Bring the pressure down to {value} and hold"
    #: said when the run is within
    within: str = ""
    #: own points in percent and own pattern, instead of the parameters
    percents: tuple[str, ...] = ()
    pattern: str = ""
    channel: int = 0


@dataclass(frozen=True, kw_only=True)
class OneTap:
    """Steps in a row that a person states in one breath: what is asked, and what is said."""

    heading: str
    title: str


@dataclass(frozen=True, kw_only=True)
class WorksOut:
    """What a step works out: nothing, unless an operation is named."""

    operation: str = ""
    #: which of its results are shown, which belongs to which field, and which must be true (with
    #: the question)
    shows: tuple[str, ...] = ()
    computed: tuple[tuple[str, str], ...] = ()
    must_hold: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True, kw_only=True)
class Step:
    """One step of a stage."""

    id: str
    stage: StageId
    #: one of the engine's kinds, or one of the family's
    kind: str
    title: str
    instruction: str
    why: str = ""
    caution: str = ""
    #: what its main button says; the words of its kind where there are none
    button: str = ""
    items: tuple[Item, ...] = ()
    fields: tuple[Field, ...] = ()
    roles: tuple[KitRole, ...] = ()
    #: for put_on: what is on afterwards; for take_off: the put_on step that it ends;
    #: the same of locks, which each person hangs and takes off
    on_label: str = ""
    on_kind: str = "connection"
    ends: str = ""
    #: for a timer: the parameter with its length in minutes
    minutes: str = ""
    #: for a timer: once it runs, what reads and sets nothing may be done before it is over
    meanwhile: bool = False
    #: why a wait is often not needed, or what cannot be done here is often not done
    often: tuple[str, ...] = ()
    #: for capture and decide: the run
    run: str = ""
    #: for decide: the runs that are judged by it
    judges: Role | Literal[""] = ""
    #: done anew in each round: what was put on and came off, lines, waits, values; or only where
    #: the test is repeated, or only for each further proof of what was set
    anew: Literal["", "round", "test", "proof"] = ""
    #: when it is part of a job; always where there is none
    only_if: Condition | None = None
    #: what a rig is told when the step is done
    order: str = ""
    #: a device may refuse here what it was told, though nothing is written in it
    may_refuse: bool = False
    #: power goes on, or off, in it; hands go in where something is live: never under power
    power: Literal["", "on", "off"] = ""
    hands: bool = False
    #: it starts what a lock holds still: refused while anybody's lock is on
    starts: bool = False
    #: channel that it is about; steps for channels that an instrument does not have fall away
    channel: int = 0
    #: steps in a row with the same one are confirmed by one tap
    together: OneTap | None = None
    #: in a round, the job is left from here
    leaves: bool = False
    #: for record: what its values are on the certificate
    part: Literal["", "settings", "environment"] = "settings"
    #: for record: it may be told at any time before the signature, and nothing waits for it
    aside: bool = False
    #: for record: it may be told before its turn too; when its turn comes it is waited for
    early: bool = False
    #: what is put right here lets it be tried again; what was done before it stands
    goes_on: bool = False
    #: for record: what is told here holds for all jobs of a round
    for_round: bool = False
    #: what is said where it cannot be had or done here, with a reason; empty where it must be
    if_not: str = ""
    #: for set: what is written
    sets: tuple[SetItem, ...] = ()
    #: what is worked out from the settings on record and from what is recorded in this step
    works_out: WorksOut = WorksOut()

    def must(self, item: Item) -> bool:
        """Tell whether the job cannot go on without a line: whatever makes it safe, and more."""
        return item.must or self.stage == "safe"


#: Stages and kinds of step in which nothing is read, nor set.
QUIET_STAGES: tuple[StageId, ...] = ("plan", "safe", "identify")
QUIET = ("kit", "record", "checklist", "put_on", "take_off", "timer", "lock_on", "lock_off")


def quiet(step: Step) -> bool:
    """Tell whether a step reads and sets nothing, so that it may be done while something waits."""
    return step.stage in QUIET_STAGES and step.kind in QUIET


def may_be_early(step: Step, present: Step) -> bool:
    """Tell whether a step may be told before its turn: once what is read or set has begun."""
    return step.early and present.stage not in QUIET_STAGES


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
    #: decided once for the whole site, not for each method
    site_wide: bool = False


@dataclass(frozen=True, kw_only=True)
class Method:
    """A way of calibrating one family of instruments."""

    id: str
    version: int
    title: str
    steps: tuple[Step, ...]
    parameters: tuple[ParameterSpec, ...]
    sources: str
    runs: tuple[RunSpec, ...]
    #: something may be set in it; where not, what is out of tolerance is replaced
    sets: bool = True
    #: what its family adds, of the family's own type
    own: Any = None
    #: several instruments are checked one after the other, with one signature
    rounds: bool = False
    #: one line about when it is the right one
    fits: str = ""
    #: its title in a few words
    called: str = ""
    #: what the paper of a job is called
    paper: str = "Calibration certificate"
    #: methods of which a good job does the work as well, and those when something was set in it
    covers: tuple[str, ...] = ()
    covers_if_set: tuple[str, ...] = ()
    #: what a line that is not so comes to, where the job went on without it
    lacks: Literal["limited", "failed"] = "limited"
    #: what its outcomes are called, where it has words of its own
    outcomes: Mapping[str, str] = field(default_factory=dict)

    def default(self, name: str) -> str:
        """Return the default of a parameter; empty where it has no such parameter."""
        return next((p.default for p in self.parameters if p.id == name), "")

    @property
    def short(self) -> str:
        """Return its title in a few words."""
        return self.called or self.title

    def also_done(self, was_set: bool) -> tuple[str, ...]:
        """Return the methods of which a good job does the work as well."""
        return (*self.covers, *(self.covers_if_set if was_set else ()))

    def run(self, run_id: str) -> RunSpec:
        """Return a run by id, or by the name of what is adjusted from; else the first one.

        The id may name one that was taken again: ``as_found~1``.
        """
        return self._named.get(run_id.partition("~")[0], self.runs[0])

    @cached_property
    def _named(self) -> dict[str, RunSpec]:
        """Return the runs by id and, where no run has that id, by what is adjusted from."""
        again = {r.again: r for r in reversed(self.runs) if r.again}
        return {**again, **{r.id: r for r in reversed(self.runs)}}

    def runs_of(self, role: Role) -> tuple[RunSpec, ...]:
        """Return the runs that are taken for something."""
        return tuple(r for r in self.runs if r.role == role)

    @property
    def found(self) -> RunSpec:
        """Return the first as-found run."""
        return next(r for r in self.runs if r.role == "found")

    @property
    def left(self) -> RunSpec | None:
        """Return the first as-left run; none where nothing is adjusted."""
        return next((r for r in self.runs if r.role == "left"), None)

    def step(self, step_id: str) -> Step | None:
        """Return a step by id, or none."""
        return self._by_id.get(step_id)

    @cached_property
    def _by_id(self) -> dict[str, Step]:
        return {s.id: s for s in reversed(self.steps)}

    def judging(self, role: Role) -> Step | None:
        """Return the decision about the runs of a role; none where there is none."""
        return next((s for s in self.steps if s.judges == role), None)

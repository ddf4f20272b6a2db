"""A family of instruments: everything the engine asks, in one record.

A family is a folder in ``calibration/families``. It registers one record of this kind, and the
engine, the server and the screens then know it without a line of their own.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any, Literal

from calibration.decisions.uncertainty import Contribution
from calibration.engine.files.device_file import FileForm
from calibration.engine.job import event_words, events, ledger, ledger_rounds
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.judging import evaluation
from calibration.engine.judging.validity import (
    Acted,
    ByItself,
    Course,
    Happened,
    Happening,
    History,
    Signed,
    Standing,
)
from calibration.engine.method.method import KitRole, Method, RunSpec, Step
from calibration.engine.method.run_kind import RunKind
from calibration.engine.method.shape import Shape
from calibration.engine.method.template import Template
from calibration.engine.view.asks import Ask, Push
from calibration.engine.view.blocks import BenchLink, Block, Row
from calibration.engine.view.judge import Judge
from calibration.engine.view.lines import OnState
from calibration.kernel.errors import InputError, one_of
from calibration.runs.cause_rows import Rows


@dataclass(frozen=True)
class Fit:
    """An instrument that a method fits, and why."""

    method: str
    test: Callable[[InstrumentFacts], bool]
    why: str
    #: the most particular ones are offered first
    rank: int = 0


@dataclass(frozen=True, kw_only=True)
class EventKind:
    """A kind of event of a family's own."""

    content: type
    add: Callable[[Ledger, Any, Event], None]
    admit: Callable[[Any, Event, dict[str, Event]], None]
    words: Callable[[Ledger, Any], str]
    #: why it is never taken back; empty where it may be
    stands: str = ""
    #: it sets the device: ``said`` on the paper in its own words, or in a ``table`` of its family
    sets: Literal["", "said", "table"] = ""
    #: what it is counted as among the entries of a person, one and several
    counted: tuple[str, str] = ("", "")


@dataclass(frozen=True, kw_only=True)
class StepKind:
    """A kind of step of a family's own."""

    done: Callable[[Reads, Step], bool]
    #: a device is set in it, and may refuse
    sets: bool = False
    #: decisions by which it is ended early, with a reason, in words
    ends: Mapping[str, str] = field(default_factory=dict)
    #: runs that are read in it, where it reads any
    reads: Callable[[Step], tuple[str, ...]] = lambda step: ()


@dataclass(frozen=True, kw_only=True)
class AssetKind:
    """A kind of reference that a family chooses by more than its accuracy."""

    #: refuse one for a role, for the reason given
    admit: Callable[[Reads, KitRole, AssetFacts, str], None]
    #: detail, ratio and warning of the one chosen
    words: Callable[[Reads, KitRole, AssetFacts], tuple[str, str, str]]
    #: what it adds to the uncertainty of the error at a point [% of span]
    contributions: Callable[[InstrumentFacts, AssetFacts, Any], tuple[Contribution, ...]]
    #: one of the kind may be offered for a role at all
    fits: Callable[[Reads, KitRole, AssetFacts], bool] = lambda job, role, asset: True
    #: what a list of references says of one, and the unit in which it is used up
    lines: Callable[[AssetFacts], tuple[Row, ...]] = lambda asset: ()
    unit: str = ""
    #: what one of the kind is called, in which unit it measures, and what is particular to it
    title: str = ""
    measures: str = ""
    facts: type | None = None
    #: which of its own facts must be said, whatever is usual; and what is wrong with them together
    asked: tuple[str, ...] = ()
    check: Callable[[Any], None] = lambda own: None


@dataclass(frozen=True)
class Drawn:
    """What a job took from a reference that is used up."""

    asset: str
    at: datetime
    amount: float


def _nothing(*_: Any) -> tuple[Any, ...]:
    return ()


@dataclass(frozen=True, kw_only=True)
class Supplies:
    """What a job takes from references that are used up."""

    #: what was drawn, and what is set aside that it may still take
    drawn: Callable[[Reads], tuple[Drawn, ...]] = _nothing
    aside: Callable[[Reads], Mapping[str, float]] = lambda job: {}


@dataclass(frozen=True, kw_only=True)
class Learning:
    """What the next visit knows of this one."""

    #: what is learnt from a signed job, and what an instrument is with all that was learnt of it
    learnt: Callable[[Reads], list[dict[str, Any]]] = lambda job: []
    remembered: Callable[
        [Mapping[str, Any], Sequence[tuple[date, Sequence[Mapping[str, Any]]]], date],
        dict[str, Any],
    ] = lambda own, history, today: dict(own)
    #: what wears in an instrument, by its own values, what was learnt and its parameters
    courses: Callable[[Mapping[str, Any], History, Mapping[str, str]], tuple[Course, ...]] = (
        lambda own, history, parameters: ()
    )


@dataclass(frozen=True, kw_only=True)
class Validity:
    """What may end a result between two visits."""

    #: what anybody may see happen to an instrument, and whether its last result still holds
    happenings: tuple[Happening, ...] = ()
    standing: Callable[[Signed, Sequence[Happened], datetime], Standing | None] = (
        lambda signed, happened, now: None
    )


@dataclass(frozen=True, kw_only=True)
class AutoChecks:
    """What instruments do by themselves while nobody is there."""

    #: when it is done and by what, of one instrument; none where none does
    once: Callable[[Mapping[str, Any]], ByItself | None] | None = None
    #: what one time comes to
    acted: Callable[[Mapping[str, Any], Mapping[str, str]], Acted] = lambda own, values: Acted(
        good=True, text=""
    )


@dataclass(frozen=True, kw_only=True)
class Said:
    """How an instrument is described, where it is not by its range and its output."""

    #: lines of its record, and its range, by its facts alone
    plate: Callable[[InstrumentFacts], tuple[Row, ...]] = _nothing
    span: Callable[[InstrumentFacts], str] | None = None
    #: what is said in the place of a tolerance, where its methods claim none
    limit: str = ""
    #: its range and its output, in a job
    range: Callable[[Reads], str] | None = None
    output: Callable[[Reads], str] | None = None


@dataclass(frozen=True, kw_only=True)
class Family:
    """What the engine asks a family."""

    id: str
    methods: tuple[Method, ...]
    fits: tuple[Fit, ...]
    #: what its instruments are called together
    title: str = ""
    #: an instrument with facts of a family's own belongs to that family
    claims: Callable[[InstrumentFacts], bool] = lambda facts: not facts.own
    #: what is particular to its instruments, a dataclass read from the facts' own values
    facts: type | None = None
    #: what a new instrument of it may begin with
    templates: tuple[Template, ...] = ()
    #: kinds of reference, by what they measure
    assets: Mapping[str, AssetKind] = field(default_factory=dict)
    #: what a reference that is not chosen from the shelf adds to the uncertainty, by its quantity
    weighs: Mapping[str, Callable[[InstrumentFacts, AssetFacts, Any], tuple[Contribution, ...]]] = (
        field(default_factory=dict)
    )
    events: Mapping[str, EventKind] = field(default_factory=dict)
    runs: Mapping[str, RunKind] = field(default_factory=dict)
    steps: Mapping[str, StepKind] = field(default_factory=dict)
    shape: Shape = field(default_factory=Shape)
    judge: Judge = field(default_factory=Judge)
    #: what is known of its causes
    causes: Rows = field(default_factory=dict)
    #: refuse an event while something is on
    bars: Callable[[Reads, Event], None] | None = None
    #: what is on besides bypass and connections
    on: Callable[[Reads], tuple[OnState, ...]] = _nothing
    #: what its result covers beside output and control room, in sentences; and what keeps it from
    #: being within beside runs and lines
    covers: Callable[[Reads], tuple[str, ...]] = _nothing
    lacks: Callable[[Reads], tuple[str, ...]] = _nothing
    #: what of it was not tested, as what it takes was not here: its use is limited by that
    untested: Callable[[Reads], tuple[str, ...]] = _nothing
    #: what stands between the job and its signature, besides steps
    to_close: Callable[[Reads], tuple[str, ...]] = _nothing
    #: kicker and title of the next action; none for the engine's own words
    heading: Callable[[Reads, Step], tuple[str, str] | None] = lambda job, step: None
    #: what the present step asks for in the family's own way; none for the engine's
    task: Callable[[Reads], Ask | None] = lambda job: None
    #: a step of its own that may be stated together with others: the line and its events
    states: Callable[[Reads, Step], Push | None] = lambda job, step: None
    #: what a screen shows of the whole job besides runs and judgement
    blocks: Callable[[Reads], tuple[Block, ...]] = _nothing
    #: what it takes from references that are used up
    supplies: Supplies = Supplies()
    #: what the next visit knows of this one
    learning: Learning = Learning()
    #: what anybody may see happen to an instrument, and whether its last result still holds
    validity: Validity = Validity()
    #: calculators of the Bench that the present step leads to
    bench: Callable[[Reads], tuple[BenchLink, ...]] = lambda job: ()
    #: what is read of a file that the device wrote, at the present step
    filed: Callable[[Reads], FileForm | None] = lambda job: None
    #: what its instruments do by themselves while nobody is there
    auto: AutoChecks = AutoChecks()
    #: how a simulated rig goes along with the job: calibration.simulate.alongside.Alongside
    rig: Any = None
    #: how its instruments are described
    said: Said = Said()
    #: adds to the certificate, by the name of its section; and what the published format
    #: promises of them on the certificates of all other families
    sections: Callable[[Reads], Mapping[str, Any]] = lambda job: {}
    no_sections: Mapping[str, Any] = field(default_factory=dict)


FAMILIES: dict[str, Family] = {}
METHODS: dict[tuple[str, int], Method] = {}
_FAMILY_OF: dict[str, Family] = {}
_EVENTS: dict[str, EventKind] = {}


def register(family: Family) -> None:
    """Make a family known: its methods, and what it adds to the engine's kinds.

    Raises
    ------
    ValueError
        when a name is taken.
    """
    # Families on one base bring its entries each: the same record, or the name is taken.
    same = {name for name, kind in family.events.items() if _EVENTS.get(name) is kind}
    taken = {*FAMILIES, *(id for id, _ in METHODS), *events.KINDS} - same
    for name in (family.id, *(m.id for m in family.methods), *family.events):
        if name in taken:
            raise ValueError(f"'{name}' is registered twice")
    FAMILIES[family.id] = family
    for method in family.methods:
        METHODS[method.id, method.version] = method
        _FAMILY_OF[method.id] = family
    _EVENTS.update(family.events)
    for name, kind in family.events.items():
        events.KINDS[name] = kind.content
        ledger.ADD[name] = kind.add
        event_words.WORDS[kind.content] = kind.words
        if kind.sets == "said":
            ledger.MOVES.add(name)
        if all(kind.counted):
            event_words.COUNTED[name] = kind.counted
    for name, step in family.steps.items():
        event_words.CHOICE_WORDS.update(step.ends)
        if step.ends:
            ledger_rounds.ENDED_EARLY.add(name)
    for name, asset in family.assets.items():
        evaluation.CONTRIBUTIONS[name] = asset.contributions
    evaluation.CONTRIBUTIONS.update(family.weighs)


def family_of(method: Method) -> Family:
    """Return the family of a method; a plain one for a method by itself."""
    return _FAMILY_OF.get(method.id) or Family(id=method.id, methods=(method,), fits=())


def family_by_facts(facts: InstrumentFacts) -> Family | None:
    """Return the family that an instrument belongs to by facts of its own; none for shared ones."""
    return next((f for f in FAMILIES.values() if f.facts is not None and f.claims(facts)), None)


def kind_of(family: Family, spec: RunSpec) -> RunKind:
    """Return the kind of a run.

    Raises
    ------
    KeyError
        for a kind that the family does not have.
    """
    return family.runs[spec.kind]


def method_for(method_id: str, version: int) -> Method:
    """Return a method in the version that a job began with.

    Raises
    ------
    InputError
        ``method.unknown``.
    """
    try:
        return METHODS[method_id, version]
    except KeyError:
        raise InputError(
            "method.unknown",
            "method",
            f"There is no method '{method_id[:60]}' in version {version}.",
            one_of(dict.fromkeys(i for i, _ in METHODS)),
        ) from None


def newest(method_id: str) -> Method:
    """Return the newest version of a method.

    Raises
    ------
    InputError
        ``method.unknown``.
    """
    versions = [v for i, v in METHODS if i == method_id]
    if not versions:
        raise InputError(
            "method.unknown",
            "method",
            f"There is no method '{method_id[:60]}'.",
            one_of(dict.fromkeys(i for i, _ in METHODS)),
        )
    return method_for(method_id, max(versions))


def fitting(facts: InstrumentFacts) -> tuple[tuple[str, str], ...]:
    """Return the methods that fit an instrument, the most particular first, each with why."""
    fits = [
        fit
        for family in FAMILIES.values()
        if family.claims(facts)
        for fit in family.fits
        if fit.test(facts)
    ]
    return tuple((fit.method, fit.why) for fit in sorted(fits, key=lambda f: f.rank))


def asset_kind(quantity: str) -> AssetKind | None:
    """Return the kind of reference that a family made its own; none for one that all share."""
    return next((f.assets[quantity] for f in FAMILIES.values() if quantity in f.assets), None)


def no_sections() -> dict[str, Any]:
    """Return what certificates say in the sections of families that are not theirs."""
    return {k: v for family in FAMILIES.values() for k, v in family.no_sections.items()}


def newest_methods() -> tuple[Method, ...]:
    """Return the newest version of every method, in the order of their families."""
    return tuple(newest(id) for id in dict.fromkeys(id for id, _ in METHODS))

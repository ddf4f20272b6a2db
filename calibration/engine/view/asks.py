"""What a step asks for: a small vocabulary in which every step of every method speaks.

A step answers with one :class:`Task`, and a task with asks. A screen draws each way of asking by
one component and sends the entries that stand in the ask; it knows no step and no method.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from calibration.engine.view.blocks import Block

#: ``choose`` one of several; ``state`` that something is so; ``tell`` values; ``read`` them, live
#: or typed; ``set`` a device, and tell what it showed; ``wait``; ``prove`` who one is.
Way = Literal["choose", "state", "tell", "read", "set", "wait", "prove"]
#: Who or what fills in what a person does not type.
By = Literal["person", "kit", "rig", "file", "second_person", "clock"]


@dataclass(frozen=True, kw_only=True)
class Sent:
    """One event as a client sends it; values that are told or read are added to its data."""

    kind: str
    data: Mapping[str, str | int]
    #: where it comes from: a rig that goes along with the job does what it says
    source: Literal["typed", "simulated"] = "typed"


@dataclass(frozen=True, kw_only=True)
class Value:
    """One value that is told: what it is called, its unit, and whether it must be there.

    Values with a ``row`` make a table: one line for each row, its values side by side.
    """

    id: str
    label: str
    unit: str = ""
    required: bool = False
    row: str = ""
    number: bool = True
    #: a time from tap to tap
    tap: bool = False
    #: it is one of these; typed where there are none
    choices: tuple[str, ...] = ()
    #: said often: one tap fills it in
    often: tuple[str, ...] = ()
    hint: str = ""
    #: what it usually is, by the record
    usual: str = ""
    #: what stands; what the record says of it; what is asked about a difference
    value: str = ""
    expected: str = ""
    question: str = ""
    #: why it could not be had; empty where that was not said
    untold: str = ""


@dataclass(frozen=True, kw_only=True)
class Choice:
    """One of several: what it is called, why, and what it takes."""

    id: str
    label: str
    recommended: bool = False
    needs_reason: bool = False
    why: str = ""
    #: reasons that are often given: one tap fills them in
    often: tuple[str, ...] = ()
    #: kind of the form that it opens, among what may be said now; empty where there is none
    form: str = ""


@dataclass(frozen=True, kw_only=True)
class Form:
    """An answer in words, behind a button or asked by itself: one event of its kind.

    So is said what is not so, not here, or went wrong; one without fields is said by its button.
    """

    kind: str
    title: str
    #: what it does to the job, in a sentence
    why: str
    #: what may be true: id and words; empty where nothing is to be chosen
    choices: tuple[Choice, ...] = ()
    fields: tuple[Value, ...] = ()
    #: what the choices are about, the name of the one that is chosen, and what is sent with it
    legend: str = "What is true now"
    choice: str = "state"
    data: Mapping[str, str | int] = field(default_factory=dict)
    #: what the button says that opens it, where it is not asked by itself, and the one that sends
    button: str = ""
    send: str = "Record it"
    #: it has a button of its own on every step, and is not opened from within one
    beside: bool = False
    #: it is said of one line: what the line sends is sent with it
    line: bool = False


@dataclass(frozen=True, kw_only=True)
class Line:
    """One thing that is stated to be so; a line without ``sent`` is only listed."""

    id: str
    label: str
    done: bool = False
    #: what was missing or failed; empty where it is so
    failed: str = ""
    sent: Sent | None = None


@dataclass(frozen=True, kw_only=True)
class Push:
    """A button beside the main one: what it says and the events that it sends.

    ``live``: the events take what a rig shows at that moment.
    """

    label: str
    events: tuple[Sent, ...]
    live: bool = False


@dataclass(frozen=True, kw_only=True)
class ToRig:
    """What a rig is told beside the job, and the button that tells it."""

    kind: Literal["apply", "fix", "trim", "write", "release"]
    label: str = ""
    #: a number as text; empty where none is told
    value: str = ""
    scale: Literal["input", "percent"] = "input"
    hop: Literal["", "sensor", "output", "receiver", "transmitter"] = ""
    end: Literal["", "zero", "span"] = ""
    setting: str = ""
    text: str = ""


@dataclass(frozen=True, kw_only=True)
class Refusal:
    """A value that may not be set: why, whether it may be forced, and who has agreed."""

    step: str
    #: kind of the event that says who or what agrees
    kind: str
    refused: str
    may_force: bool
    agreed: str
    #: what to do instead; what else could confirm it, in a word
    advice: str
    other: str
    #: by rule of the site it may be forced alone, by what is read off label and regulator
    checks: bool = False
    #: it may be tried again as it is, with nothing agreed
    again: bool = False


@dataclass(frozen=True, kw_only=True)
class Ask:
    """One thing that a step asks for. Which parts it has follows from its way."""

    way: Way
    id: str = ""
    #: what is asked, where the heading of the task does not say it
    label: str = ""
    #: what the main button says; ``typed`` where values are typed, ``in_round`` where this is the
    #: last look of a round and what is left of the job is stated with it
    button: str = ""
    typed: str = ""
    in_round: str = ""
    #: who may fill it in, the first by itself where it is there; empty for whoever can
    by: tuple[By, ...] = ()
    #: what is sent: values, the one chosen (under the name ``key``) or a reason are added to it;
    #: ``each``: every value is an entry of its own. ``also`` is sent with it
    sends: Sent | None = None
    key: str = ""
    each: bool = False
    also: tuple[Sent, ...] = ()
    lines: tuple[Line, ...] = ()
    options: tuple[Choice, ...] = ()
    values: tuple[Value, ...] = ()
    #: the answer that stands; empty while it is open
    said: str = ""
    #: what may be said where it is not so, not here or refused; else why nothing may
    if_not: tuple[Form, ...] = ()
    barred: str = ""
    blocks: tuple[Block, ...] = ()
    others: tuple[Push, ...] = ()
    refusal: Refusal | None = None
    #: what a rig is told to go to first, and then to do; ``alone``: it may go on by itself
    go: ToRig | None = None
    order: ToRig | None = None
    alone: bool = False
    #: taken as soon as it is steady, not when it is pressed; whether it has to be steady at all
    at_once: bool = False
    steadily: bool = True
    #: reasons that are offered for taking a value before it is steady
    early: tuple[str, ...] = ()
    #: what is measured by it: kind of reference that is chosen
    quantity: str = ""
    #: for a wait: when it ends, and how long it is [min]
    ends_at: str = ""
    minutes: str = ""
    #: what a file of the device is called, where one can be read into the values
    file: str = ""
    #: for ``set``: zero or span, what the device is to show afterwards, of which channel, from 0
    end: str = ""
    target: str = ""
    channel: int = 0


@dataclass(frozen=True, kw_only=True)
class ComputedLine:
    """One line of what was worked out for a step."""

    label: str
    value: str
    given: bool


@dataclass(frozen=True, kw_only=True)
class Task:
    """What is to be done: heading, why, what to be careful about, and what is asked."""

    step: str
    kicker: str
    title: str
    why: str = ""
    caution: str = ""
    #: what comes after it
    then: str = ""
    asks: tuple[Ask, ...] = ()
    #: what a rig that goes along is told when it is done
    order: str = ""
    #: this and the next steps as one person states them in one breath
    together: Ask | None = None
    #: what the device refused here, newest last
    refused: tuple[str, ...] = ()
    computed: tuple[ComputedLine, ...] = ()
    #: in a round, the job is left from here: what is left of it is stated and the next begins
    leaves: bool = False
    #: nothing waits for it: it is told when there is a hand free
    aside: bool = False


def why(label: str, *often: str) -> Value:
    """Return the field for a reason."""
    return Value(number=False, id="reason", label=label, required=True, often=often)


def with_reason(kind: str, words: str, means: str, field: Value, **data: str | int) -> Form:
    """Return an answer that takes a reason; its button opens it and sends it."""
    return Form(
        kind=kind, title=words, why=means, fields=(field,), data=data, button=words, send=words
    )

"""The events of a job: their kinds, their content and the chain that seals them."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Any, Literal

from calibration.engine.facts import AssetFacts as AssetFacts
from calibration.engine.facts import InstrumentFacts as InstrumentFacts
from calibration.engine.facts import Parameter as Parameter
from calibration.engine.facts import Setting as Setting
from calibration.kernel.codec import about, decode
from calibration.kernel.errors import InputError
from calibration.signals.stability import Sample

#: Id of a run of the method, which is the id of its step as well.
RunName = str
Source = Literal["typed", "simulated", "device"]
AdjustHop = Literal["sensor", "output", "receiver", "transmitter"]
AdjustEnd = Literal["zero", "span"]


@dataclass(frozen=True, kw_only=True)
class Opened:
    """The job begins: instrument, method and parameters as they are now."""

    job: str = about("number of the job")
    instrument: InstrumentFacts = about("the instrument")
    method: str = about("method")
    version: int = about("version of the method")
    parameters: Mapping[str, Parameter] = about("limits and settings with their source")
    follows: str = about("number of the signed job that this one follows", default="")


@dataclass(frozen=True, kw_only=True)
class Confirmed:
    """One line of a checklist or gate."""

    step: str = about("step")
    item: str = about("line")


@dataclass(frozen=True, kw_only=True)
class Recorded:
    """One field of a record."""

    step: str = about("step")
    field: str = about("field")
    value: str = about("as typed")


@dataclass(frozen=True, kw_only=True)
class KitChosen:
    """A reference taken for a role in this job."""

    role: str = about("what it is used for")
    asset: AssetFacts = about("the reference")
    reason: str = about("why it is used in spite of a warning", default="")


@dataclass(frozen=True, kw_only=True)
class PutOn:
    """Something that must come off again: a bypass, a manual mode, a connection."""

    step: str = about("step")
    note: str = about("by whom agreed", default="")


@dataclass(frozen=True, kw_only=True)
class TakenOff:
    """It is off again."""

    step: str = about("step")
    note: str = about("by whom agreed", default="")


@dataclass(frozen=True, kw_only=True)
class TimerStarted:
    """A wait begins."""

    step: str = about("step")


@dataclass(frozen=True, kw_only=True)
class TimerWaived:
    """A wait is not needed, with the reason."""

    step: str = about("step")
    reason: str = about("why")


@dataclass(frozen=True, kw_only=True)
class Steadiness:
    """How steady the signal was when it was taken."""

    std: float = about("standard deviation of one sample", unit="output unit")
    samples: int = about("samples averaged")
    seconds: float = about("length of the dwell", unit="s")


@dataclass(frozen=True, kw_only=True)
class ReadingTaken:
    """One point of a run."""

    run: RunName = about("which run")
    point: int = about("index in the plan, from 0")
    applied: Decimal = about("value applied", unit="input unit")
    reading: Decimal = about("output read", unit="output unit")
    digital: Decimal | None = about("digital value", unit="input unit", default=None)
    indicated: Decimal | None = about("control room", unit="input unit", default=None)
    steadiness: Steadiness | None = about("from the live signal", default=None)
    early_reason: str = about("why it was taken before it was steady", default="")
    kept: bool = about("a question about a slip was answered with: keep it", default=False)
    t90_s: Decimal | None = about("time to 90 %", unit="s", default=None)
    peak: Decimal | None = about("highest value", unit="gas unit", default=None)
    flow: Decimal | None = about("flow seen", unit="L/min", default=None)
    other_percent: Decimal | None = about(
        "largest answer of another channel", unit="% of its range", default=None
    )
    curve: tuple[Sample, ...] = about("reading since gas on", default=())


@dataclass(frozen=True, kw_only=True)
class GasOn:
    """A cylinder is opened onto the detector."""

    step: str = about("step")
    role: str = about("which gas")
    flow: Decimal = about("flow set", unit="L/min")
    kept: bool = about("a question about the flow was answered with: keep it", default=False)


@dataclass(frozen=True, kw_only=True)
class GasOff:
    """The cylinder is shut."""

    step: str = about("step")


@dataclass(frozen=True, kw_only=True)
class GasSet:
    """Zero or span set in the detector; values as it shows them."""

    step: str = about("step")
    before: Decimal = about("what it showed in the gas", unit="gas unit")
    after: Decimal = about("what it shows after it was set", unit="gas unit")
    kept: bool = about("a question about a slip was answered with: keep it", default=False)


@dataclass(frozen=True, kw_only=True)
class Agreed:
    """A refused adjustment may be forced: why, and who or what confirms it."""

    step: str = about("step")
    reason: str = about("why it is forced")
    way: Literal["second_person", "other_cylinder"] = about("what confirms it")
    name: str = about("second person", default="")
    asset: AssetFacts | None = about("the other cylinder", default=None)
    reading: Decimal | None = about("what it shows with it", unit="gas unit", default=None)


@dataclass(frozen=True, kw_only=True)
class Adjusted:
    """One adjustment, or a check of one end between adjustments; values are those after it."""

    hop: AdjustHop = about("what was adjusted")
    end: AdjustEnd = about("zero or span")
    action: Literal["trim", "check"] = about("trim changes the device; check only reads")
    applied: Decimal = about("value applied", unit="input unit")
    reading: Decimal | None = about("output after it", unit="output unit", default=None)
    digital: Decimal | None = about("digital value after it", unit="input unit", default=None)
    indicated: Decimal | None = about("control room after it", unit="input unit", default=None)
    before: Decimal | None = about("value that was trimmed, before it", default=None)
    kept: bool = about("a question about a slip was answered with: keep it", default=False)


@dataclass(frozen=True, kw_only=True)
class Written:
    """A setting written to the device, and what it said when it was read back."""

    step: str = about("step")
    setting: str = about("which setting")
    value: str = about("what was written")
    read_back: str = about("what the device says now")


@dataclass(frozen=True, kw_only=True)
class Placed:
    """A sensor put into a block, from where its run goes on by itself."""

    run: RunName = about("which run")
    block: str = about("number of the block")


@dataclass(frozen=True, kw_only=True)
class Decided:
    """A judgement, with a reason where one is asked for."""

    step: str = about("step")
    choice: str = about("what was decided")
    reason: str = about("why", default="")


@dataclass(frozen=True, kw_only=True)
class Noted:
    """A remark that appears on the certificate."""

    text: str = about("remark")


@dataclass(frozen=True, kw_only=True)
class Retracted:
    """An earlier event is taken back; it stays in the history."""

    event: str = about("id of the event taken back")
    reason: str = about("why")


@dataclass(frozen=True, kw_only=True)
class Signed:
    """The technician signs; the job is closed."""

    name: str = about("who signs")
    statement: str = about("what is stated")


@dataclass(frozen=True, kw_only=True)
class Reviewed:
    """A second person looked through the signed record."""

    name: str = about("who reviewed")
    outcome: Literal["accepted", "redo"] = about("result of the review")
    comment: str = about("remark", default="")


KINDS: dict[str, type] = {
    "opened": Opened,
    "confirmed": Confirmed,
    "recorded": Recorded,
    "kit_chosen": KitChosen,
    "put_on": PutOn,
    "taken_off": TakenOff,
    "timer_started": TimerStarted,
    "timer_waived": TimerWaived,
    "reading_taken": ReadingTaken,
    "gas_on": GasOn,
    "gas_off": GasOff,
    "gas_set": GasSet,
    "agreed": Agreed,
    "adjusted": Adjusted,
    "written": Written,
    "placed": Placed,
    "decided": Decided,
    "noted": Noted,
    "retracted": Retracted,
    "signed": Signed,
    "reviewed": Reviewed,
}


@dataclass(frozen=True, kw_only=True)
class Event:
    """Something that happened in a job. ``content`` is the decoded ``data``."""

    id: str
    seq: int
    kind: str
    at: str
    by: str
    role: str
    source: str
    data: Mapping[str, Any]
    content: Any

    @property
    def when(self) -> datetime:
        """Return the time it happened."""
        return datetime.fromisoformat(self.at)


def make_event(
    *,
    id: str,
    seq: int,
    kind: str,
    at: str,
    by: str,
    role: str,
    source: str,
    data: Mapping[str, Any],
) -> Event:
    """Build an event from plain values, with its content decoded and checked.

    Raises
    ------
    InputError
        ``event.unknown_kind``, ``event.time`` and those of decoding, named ``data.<field>``.
    """
    if kind not in KINDS:
        raise InputError(
            "event.unknown_kind",
            "kind",
            f"There is no event '{kind[:60]}'.",
            "Use one of: " + ", ".join(KINDS) + ".",
        )
    try:
        if datetime.fromisoformat(at).tzinfo is None:
            raise ValueError
    except ValueError:
        raise InputError(
            "event.time", "at", f"'{at[:40]}' is not a time with its zone.", "Use ISO 8601 in UTC."
        ) from None
    content: Any = decode(KINDS[kind], data, "data")
    return Event(
        id=id,
        seq=seq,
        kind=kind,
        at=at,
        by=by,
        role=role,
        source=source,
        data=data,
        content=content,
    )


def canonical(value: Any) -> str:
    """Return the one text form that is stored and sealed: sorted keys, no blanks."""
    return json.dumps(value, sort_keys=True, separators=(",", ":"), ensure_ascii=False)


def seal(previous: str, payload: str) -> str:
    """Return the SHA-256 of an event chained to the one before (FIPS 180-4), as hex.

    Parameters
    ----------
    previous : str
        Seal of the event before; empty for the first.
    payload : str
        Canonical text of the event.
    """
    return hashlib.sha256(f"{previous}\n{payload}".encode()).hexdigest()


def in_order(events: Sequence[Event]) -> list[Event]:
    """Return each event once, by its place in the job."""
    seen: set[str] = set()
    kept = []
    for event in sorted(events, key=lambda e: e.seq):
        if event.id not in seen:
            seen.add(event.id)
            kept.append(event)
    return kept

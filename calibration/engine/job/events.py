"""The events of a job: their kinds, their content and the chain that seals them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Any, Literal

from calibration.engine.job import incidents, locks
from calibration.engine.job.facts import AssetFacts as AssetFacts
from calibration.engine.job.facts import InstrumentFacts as InstrumentFacts
from calibration.engine.job.facts import Parameter as Parameter
from calibration.engine.job.facts import Setting as Setting
from calibration.engine.job.signed import Issued as Issued
from calibration.engine.job.signed import Reviewed as Reviewed
from calibration.engine.job.signed import Signed as Signed
from calibration.kernel.codec import about, decode, swept
from calibration.kernel.errors import InputError
from calibration.kernel.own import Own

#: Id of a run of the method, which is the id of its step as well.
RunName = str
Source = Literal["typed", "simulated", "device"]


@dataclass(frozen=True, kw_only=True)
class Opened:
    """The job begins: instrument, method and parameters as they are now."""

    job: str = about("number of the job")
    instrument: InstrumentFacts = about("the instrument")
    method: str = about("method")
    version: int = about("version of the method")
    parameters: Mapping[str, Parameter] = about("limits and settings with their source")
    follows: str = about("number of the signed job that this one follows", default="")
    #: jobs of before these questions do not ask them
    last_good: str = about("day of the last check on record that was good", default="")
    asks: bool = about("asks how it is left and what follows from an error", default=False)
    work_order: str = about("number of the order by which it is done", default="")


@dataclass(frozen=True, kw_only=True)
class Confirmed:
    """One line of a checklist or gate."""

    step: str = about("step")
    item: str = about("line")
    said: str = about("the line as it was shown", default="")


@dataclass(frozen=True, kw_only=True)
class Recorded:
    """One field of a record."""

    step: str = about("step")
    field: str = about("field")
    value: str = about("as typed")
    said: str = about("the field as it was called", default="")


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
    beside: str = about("why it was taken beside the target, which stays open", default="")
    #: what a kind of run adds, read as its own type
    own: Own = swept()


@dataclass(frozen=True, kw_only=True)
class LeftOut:
    """A point of a run that cannot be reached; the run goes on without it."""

    run: RunName = about("which run")
    point: int = about("index in the plan, from 0")
    reason: str = about("why it is not taken")


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
class LeftAs:
    """How an instrument is left that was not put back, and who has it now."""

    state: Literal["bypass", "manual", "isolated", "removed", "in_service"] = about("what is true")
    to: str = about("who has it now", default="")
    tag: str = about("tag or lock that hangs on it", default="")
    told: str = about("who was told", default="")


@dataclass(frozen=True, kw_only=True)
class Limited:
    """Within what an instrument may be used that reads outside its limits."""

    limit: str = about("how far it may be used")
    until: str = about("until when, or until what is done", default="")


@dataclass(frozen=True, kw_only=True)
class Impact:
    """What follows from an error that was found: a list to work off."""

    last_good: str = about("when it was last known to be good")
    affected: str = about("what it may have affected: product, trip, earlier alarms")
    told: str = about("who was told")


@dataclass(frozen=True, kw_only=True)
class FollowedUp:
    """What was found when an impact was looked into."""

    what: str = about("what was found and done")


@dataclass(frozen=True, kw_only=True)
class TakenOver:
    """At a change of shift: the next person has what is on, by name."""

    on: tuple[str, ...] = about("steps of what is taken over")


@dataclass(frozen=True, kw_only=True)
class Voided:
    """The job was opened by mistake; it ends without a result. That is reason enough."""

    reason: str = about("why, where there is more to say", default="")


#: by kind; families join theirs
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
    "left_out": LeftOut,
    "written": Written,
    "placed": Placed,
    "decided": Decided,
    "noted": Noted,
    "retracted": Retracted,
    "left_as": LeftAs,
    "limited": Limited,
    "impact": Impact,
    "followed_up": FollowedUp,
    "taken_over": TakenOver,
    "voided": Voided,
    "signed": Signed,
    "issued": Issued,
    "reviewed": Reviewed,
    "line_failed": incidents.LineFailed,
    "ended": incidents.Ended,
    "refused": incidents.Refused,
    "repaired": incidents.Repaired,
    "begun_again": incidents.BegunAgain,
    "not_told": incidents.NotTold,
    "went_without": incidents.WentWithout,
    "lock_hung": locks.LockHung,
    "lock_taken_off": locks.LockTakenOff,
    "lock_ended": locks.LockEnded,
}


#: kinds of the engine's own, whatever families join
OWN_KINDS = frozenset(KINDS)


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
    #: who it was by the name they sign in with, and when it reached the server
    account: str = ""
    arrived: str = ""
    #: what the clock of the device showed when it was made
    wall: str = ""

    @property
    def when(self) -> datetime:
        """Return the time it happened."""
        return datetime.fromisoformat(self.at)

    @property
    def person(self) -> str:
        """Return who it was, so that two of one name differ; by name where no account was kept."""
        return self.account or self.by


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
    account: str = "",
    arrived: str = "",
    wall: str = "",
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
        account=account,
        arrived=arrived,
        wall=wall,
    )


def in_order(events: Sequence[Event]) -> list[Event]:
    """Return each event once, by its place in the job."""
    seen: set[str] = set()
    kept = []
    for event in sorted(events, key=lambda e: e.seq):
        if event.id not in seen:
            seen.add(event.id)
            kept.append(event)
    return kept

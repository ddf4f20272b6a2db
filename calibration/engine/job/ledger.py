"""What has happened in a job so far, added up event by event and nothing judged yet."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any, TypeVar

from calibration.engine.job import events as ev
from calibration.engine.job import incidents as sb
from calibration.engine.job import locks as lk
from calibration.engine.job.events import Event, in_order
from calibration.engine.job.ledger_parts import Attempt as Attempt
from calibration.engine.job.ledger_parts import Part as Part
from calibration.engine.job.ledger_parts import Spell
from calibration.engine.job.ledger_parts import Taken as Taken
from calibration.engine.job.ledger_rounds import AGAIN as AGAIN
from calibration.engine.job.ledger_rounds import NOT_HERE as NOT_HERE
from calibration.engine.job.ledger_rounds import REPAIR as REPAIR
from calibration.engine.job.ledger_rounds import REPEAT as REPEAT
from calibration.engine.job.ledger_rounds import REPEAT_OTHER as REPEAT_OTHER
from calibration.engine.job.ledger_rounds import STOP as STOP
from calibration.engine.job.ledger_rounds import WITHOUT as WITHOUT
from calibration.engine.job.ledger_rounds import begin_again, not_told, put_on_again, repair, repeat
from calibration.engine.job.ledger_then import Then
from calibration.engine.method.method import Method, Step
from calibration.kernel.errors import InputError

P = TypeVar("P", bound=Part)


@dataclass
class Ledger(Then):
    """The standing entries of a job. Built by :func:`build`; one event at a time by ``add``."""

    method: Method
    opened: ev.Opened
    opened_event: Event
    confirmed: dict[tuple[str, str], Event] = field(default_factory=dict)
    recorded: dict[tuple[str, str], tuple[str, Event]] = field(default_factory=dict)
    #: values that could not be had, by step and field
    untold: dict[tuple[str, str], tuple[sb.NotTold, Event]] = field(default_factory=dict)
    kit: dict[str, ev.KitChosen] = field(default_factory=dict)
    #: roles for which there is no reference, and the other way is taken
    without: dict[str, Event] = field(default_factory=dict)
    put_on: dict[str, Event] = field(default_factory=dict)
    taken_off: dict[str, Event] = field(default_factory=dict)
    #: every time that something was on and came off again, repeated tests included
    spells: list[Spell] = field(default_factory=list)
    timers: dict[str, Event] = field(default_factory=dict)
    waived: dict[str, ev.TimerWaived] = field(default_factory=dict)
    #: per run; ``base`` is the as-left run that failed and was adjusted from again
    readings: dict[str, dict[int, Taken]] = field(default_factory=lambda: defaultdict(dict))
    retaken: int = 0
    #: by run: points that cannot be reached, with why
    left_out: dict[str, dict[int, ev.LeftOut]] = field(default_factory=lambda: defaultdict(dict))
    #: runs that were begun again as a whole, with how many readings were dropped
    dropped: list[tuple[sb.BegunAgain, Event, int]] = field(default_factory=list)
    #: tests that were taken again, oldest first
    attempts: list[Attempt] = field(default_factory=list)
    #: how often it was set or put right, and read again
    rounds: int = 0
    decided: dict[str, tuple[ev.Decided, Event]] = field(default_factory=dict)
    #: by step and setting
    written: dict[tuple[str, str], tuple[ev.Written, Event]] = field(default_factory=dict)
    #: what was adjusted to in the rounds before, oldest first
    rewritten: list[tuple[ev.Written, Event]] = field(default_factory=list)
    #: by run: the block that the sensor is in
    placed: dict[str, tuple[ev.Placed, Event]] = field(default_factory=dict)
    notes: list[tuple[str, Event]] = field(default_factory=list)
    signed: tuple[ev.Signed, Event] | None = None
    #: every issue of the paper, oldest first
    issued: list[tuple[ev.Issued, Event]] = field(default_factory=list)
    reviewed: tuple[ev.Reviewed, Event] | None = None
    #: what is asked once something went wrong, and the answers of later
    left_as: tuple[ev.LeftAs, Event] | None = None
    limited: tuple[ev.Limited, Event] | None = None
    impact: tuple[ev.Impact, Event] | None = None
    followed_up: tuple[ev.FollowedUp, Event] | None = None
    #: by step: who has what is on, where that is not who put it on
    taken_over: dict[str, Event] = field(default_factory=dict)
    voided: tuple[ev.Voided, Event] | None = None
    #: lines of checklists that were not so, by step and line; put right or not
    failed: dict[tuple[str, str], tuple[sb.LineFailed, Event]] = field(default_factory=dict)
    ended: tuple[sb.Ended, Event] | None = None
    refused: list[tuple[sb.Refused, Event]] = field(default_factory=list)
    repaired: list[tuple[sb.Repaired, Event]] = field(default_factory=list)
    #: something was put right and what it did was not judged yet
    unproven: bool = False
    retracted: dict[str, ev.Retracted] = field(default_factory=dict)
    seq: int = 0
    #: how many times the device was changed, and the entries of families that are said of it
    changes: int = 0
    moves: list[Event] = field(default_factory=list)
    #: locks that people hang before hands go in
    locks: lk.Locks = field(default_factory=lk.Locks)
    _parts: dict[type[Part], Part] = field(default_factory=dict)

    def part(self, kind: type[P]) -> P:
        """Return what a family keeps of the job."""
        found = self._parts.setdefault(kind, kind())
        assert isinstance(found, kind)
        return found

    @property
    def facts(self) -> ev.InstrumentFacts:
        """Return the instrument as it was when the job was opened."""
        return self.opened.instrument

    def on_now(self) -> list[tuple[Step, Event]]:
        """Return what is still on: bypass, manual mode, connections."""
        found = []
        for step in self.method.steps:
            if step.kind == "put_on" and step.id in self.put_on:
                endings = [s.id for s in self.method.steps if s.ends == step.id]
                if not any(id in self.taken_off for id in endings):
                    found.append((step, self.put_on[step.id]))
        return found

    def adjusted_to(self, step: str, setting: str) -> str:
        """Return what a setting was adjusted to in the round before; empty when to nothing."""
        was = [c.value for c, _ in self.rewritten if (c.step, c.setting) == (step, setting)]
        return was[-1] if was else ""

    def gone_through(self, run: str, points: int) -> bool:
        """Tell whether each of so many points has a reading, or cannot be reached."""
        return len({*self.readings[run], *self.left_out.get(run, ())}) >= points

    def not_here(self, step: str) -> bool:
        """Tell whether it was said that a step cannot be done here, of the test as it stands."""
        said = self.decided.get(step)
        if said is None or said[0].choice != NOT_HERE:
            return False
        return not self.attempts or said[1].seq > self.attempts[-1].event.seq

    def holder(self, step: str) -> Event:
        """Return the entry by which somebody has what a step put on: the newest."""
        return self.taken_over.get(step) or self.put_on[step]

    @property
    def set_times(self) -> int:
        """Return how many times the device was set; a repair is none."""
        return self.changes - len(self.repaired)

    @property
    def lacking(self) -> dict[tuple[str, str], sb.LineFailed]:
        """Return the lines that are not so and were not put right."""
        return {k: c for k, (c, _) in self.failed.items() if k not in self.confirmed}

    @property
    def stopped(self) -> bool:
        """Tell whether the instrument is not put back as good: decided, ended, or by a line."""
        by_line = self.method.lacks == "failed" and bool(self.lacking)
        return self.ended is not None or by_line or self.decided_to_stop

    @property
    def decided_to_stop(self) -> bool:
        """Tell whether it was judged that it is not put back as good."""
        stops = [step for step, (c, _) in self.decided.items() if c.choice == STOP]
        decisions = (self.method.step(step) for step in stops)
        return any(step is not None and step.kind == "decide" for step in decisions)

    @property
    def left_away(self) -> bool:
        """Tell whether it stays in bypass, isolated or removed: nothing of it is put back."""
        left = self.left_as
        return self.stopped and left is not None and left[0].state != "in_service"

    @property
    def follow_up(self) -> str:
        """Return whether there is a list to work off: open, done, or none."""
        if self.impact is None:
            return ""
        return "done" if self.followed_up else "open"

    def add(self, event: Event) -> None:
        """Add one event that is not a retraction."""
        ADD[event.kind](self, event.content, event)
        if event.kind in MOVES:
            self.moves.append(event)
        self.seq = max(self.seq, event.seq)


def _confirm(ledger: Ledger, content: ev.Confirmed, event: Event) -> None:
    ledger.confirmed[content.step, content.item] = event


def _fail(ledger: Ledger, content: sb.LineFailed, event: Event) -> None:
    ledger.failed[content.step, content.item] = (content, event)
    ledger.decided.pop(content.step, None)
    ledger.confirmed.pop((content.step, content.item), None)


def _end(ledger: Ledger, content: sb.Ended, event: Event) -> None:
    ledger.ended = (content, event)


def _refuse(ledger: Ledger, content: sb.Refused, event: Event) -> None:
    ledger.refused.append((content, event))


def _record(ledger: Ledger, content: ev.Recorded, event: Event) -> None:
    ledger.recorded[content.step, content.field] = (content.value, event)
    ledger.untold.pop((content.step, content.field), None)


def _choose(ledger: Ledger, content: ev.KitChosen, event: Event) -> None:
    ledger.kit[content.role] = content
    ledger.without.pop(content.role, None)


def _go_without(ledger: Ledger, content: sb.WentWithout, event: Event) -> None:
    ledger.without[content.role] = event
    ledger.kit.pop(content.role, None)


def _put_on(ledger: Ledger, content: ev.PutOn, event: Event) -> None:
    ledger.put_on[content.step] = event


def _take_off(ledger: Ledger, content: ev.TakenOff, event: Event) -> None:
    step = ledger.method.step(content.step)
    begun = ledger.put_on.get(step.ends) if step is not None else None
    if step is not None and begun is not None:
        ledger.spells.append(Spell(step.ends, begun, event, dict(ledger.kit)))
    ledger.taken_off[content.step] = event


def _start_timer(ledger: Ledger, content: ev.TimerStarted, event: Event) -> None:
    ledger.timers[content.step] = event


def _waive(ledger: Ledger, content: ev.TimerWaived, event: Event) -> None:
    ledger.waived[content.step] = content


def _read(ledger: Ledger, content: ev.ReadingTaken, event: Event) -> None:
    run = ledger.readings[content.run]
    if content.point in run:
        ledger.retaken += 1
    run[content.point] = Taken(content, event)


def _drop_run(ledger: Ledger, content: sb.BegunAgain, event: Event) -> None:
    taken = ledger.readings.pop(content.run, {})
    ledger.left_out.pop(content.run, None)
    ledger.placed.pop(content.run, None)
    ledger.dropped.append((content, event, len(taken)))


def _leave_out(ledger: Ledger, content: ev.LeftOut, event: Event) -> None:
    ledger.left_out[content.run][content.point] = content


def _decide(ledger: Ledger, content: ev.Decided, event: Event) -> None:
    step = ledger.method.step(content.step)
    if step is not None and step.judges == "left" and content.choice == AGAIN:
        ledger.unproven = False
        begin_again(ledger)
        return
    if step is not None and step.judges == "found" and content.choice in (REPEAT, REPEAT_OTHER):
        repeat(ledger, content, event)
        return
    if step is not None and step.judges == "found":
        ledger.unproven = False
        put_on_again(ledger)
    ledger.decided[content.step] = (content, event)


def _write(ledger: Ledger, content: ev.Written, event: Event) -> None:
    ledger.written[content.step, content.setting] = (content, event)
    step = ledger.method.step(content.step)
    items = step.sets if step is not None else ()
    ledger.changes += any(i.id == content.setting and i.adjusts for i in items)


def _place(ledger: Ledger, content: ev.Placed, event: Event) -> None:
    ledger.placed[content.run] = (content, event)


def _note(ledger: Ledger, content: ev.Noted, event: Event) -> None:
    ledger.notes.append((content.text, event))


def _left_as(ledger: Ledger, content: ev.LeftAs, event: Event) -> None:
    ledger.left_as = (content, event)


def _limit(ledger: Ledger, content: ev.Limited, event: Event) -> None:
    ledger.limited = (content, event)


def _affects(ledger: Ledger, content: ev.Impact, event: Event) -> None:
    ledger.impact = (content, event)


def _follow_up(ledger: Ledger, content: ev.FollowedUp, event: Event) -> None:
    ledger.followed_up = (content, event)


def _take_over(ledger: Ledger, content: ev.TakenOver, event: Event) -> None:
    ledger.taken_over.update(dict.fromkeys(content.on, event))


def _void(ledger: Ledger, content: ev.Voided, event: Event) -> None:
    ledger.voided = (content, event)


def _sign(ledger: Ledger, content: ev.Signed, event: Event) -> None:
    ledger.signed = (content, event)


def _issue(ledger: Ledger, content: ev.Issued, event: Event) -> None:
    ledger.issued.append((content, event))


def _review(ledger: Ledger, content: ev.Reviewed, event: Event) -> None:
    ledger.reviewed = (content, event)


def _nothing(ledger: Ledger, content: Any, event: Event) -> None:
    """Opening and retractions are dealt with while building."""


#: kinds of event by which families set a device, and that are said of it on the paper
MOVES: set[str] = set()
#: by kind of event; families join theirs
ADD: dict[str, Callable[[Ledger, Any, Event], None]] = {
    "opened": _nothing,
    "confirmed": _confirm,
    "line_failed": _fail,
    "ended": _end,
    "refused": _refuse,
    "repaired": repair,
    "lock_hung": lk.hang,
    "lock_taken_off": lk.take_off,
    "lock_ended": lk.end,
    "recorded": _record,
    "not_told": not_told,
    "kit_chosen": _choose,
    "went_without": _go_without,
    "put_on": _put_on,
    "taken_off": _take_off,
    "timer_started": _start_timer,
    "timer_waived": _waive,
    "reading_taken": _read,
    "left_out": _leave_out,
    "begun_again": _drop_run,
    "written": _write,
    "placed": _place,
    "decided": _decide,
    "noted": _note,
    "retracted": _nothing,
    "left_as": _left_as,
    "limited": _limit,
    "impact": _affects,
    "followed_up": _follow_up,
    "taken_over": _take_over,
    "voided": _void,
    "signed": _sign,
    "issued": _issue,
    "reviewed": _review,
}


def build(method: Method, events: Sequence[Event]) -> Ledger:
    """Add up the events of one job; retracted ones and repeats do not count.

    Parameters
    ----------
    method : Method
    events : sequence of Event
        In any order; their ``seq`` decides. The first is ``opened``.

    Raises
    ------
    InputError
        ``job.not_opened``.
    """
    ordered = in_order(events)
    if not ordered or ordered[0].kind != "opened":
        raise InputError(
            "job.not_opened", "events", "The job has no opening event.", "Open the job first."
        )
    ledger = Ledger(method=method, opened=ordered[0].content, opened_event=ordered[0])
    ledger.retracted = {e.content.event: e.content for e in ordered if e.kind == "retracted"}
    for event in ordered:
        if event.id not in ledger.retracted:
            ledger.add(event)
        ledger.seq = max(ledger.seq, event.seq)
    return ledger

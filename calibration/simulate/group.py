"""Several sensors in several blocks, interleaved: the next point that is ready goes first.

The timeline is worked out from the requests alone, and only from those made before each moment.
So it is the same whenever it is asked for, also after a restart, and a sensor that joins later
changes nothing that has happened.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from calibration.simulate.block import Block, block_at, settling_s
from calibration.simulate.commands import Command


@dataclass(frozen=True, kw_only=True)
class Request:
    """One point of one sensor that waits to be read."""

    member: str
    block: str
    point: int
    #: temperature wanted [°C]
    target: float
    #: since when it waits [s]
    since: float
    #: run of the member's job that the point belongs to
    run: str = ""


@dataclass(frozen=True, kw_only=True)
class Rules:
    """When a block counts as ready, and how long one reading takes."""

    #: distance from where the block settles [°C]
    band_c: float = 0.02
    #: delay of probe and sensor behind the block [s]
    lag_s: float = 12.0
    #: time in the band before the first reading [s]
    dwell_s: float = 60.0
    #: one sensor after the other is connected and read [s]
    reading_s: float = 20.0


@dataclass(frozen=True, kw_only=True)
class Taken:
    """A reading of the timeline."""

    request: Request
    t: float


@dataclass(frozen=True, kw_only=True)
class BlockState:
    """What a block does at one moment."""

    block: str
    #: where it goes or stays [°C]; none before its first request
    target: float | None
    temperature: float
    #: until its readings may be taken [s]; 0 when ready
    ready_in_s: float
    #: members that wait for this target
    waiting: tuple[str, ...]
    #: what comes after this target [°C]
    then: tuple[float, ...]


@dataclass(frozen=True, kw_only=True)
class Timeline:
    """Everything up to a moment."""

    #: the moment [s]
    at: float
    taken: tuple[Taken, ...]
    commands: Mapping[str, tuple[Command, ...]]
    blocks: tuple[BlockState, ...]
    #: who is read now, and next; empty when nobody
    reading: str
    next: str
    #: when the last reading known of is expected [s]
    ends_at: float
    #: when the next one is, while nobody puts in or takes out a sensor [s]; none when all are taken
    next_at: float | None = None


@dataclass
class _Oven:
    name: str
    model: Block
    seed: int
    commands: list[Command] = field(default_factory=list)
    target: float | None = None
    ready_at: float = 0.0

    def go(self, target: float, t: float, rules: Rules) -> None:
        now = block_at(self.model, self.commands, t, self.seed)
        self.commands.append(Command(t=t, kind="apply", value=target))
        self.target = target
        settled = t + settling_s(self.model, now, target, rules.band_c)
        self.ready_at = settled + rules.lag_s + rules.dwell_s


class _Course:
    """The run of events; every step goes on to the next moment at which something happens."""

    def __init__(
        self, requests: Sequence[Request], blocks: Mapping[str, Block], seed: int, rules: Rules
    ) -> None:
        self.requests = sorted(requests, key=lambda r: (r.since, r.target, r.member))
        self.rules = rules
        self.ovens = {name: _Oven(name, model, seed) for name, model in sorted(blocks.items())}
        self.open = list(self.requests)
        self.taken: list[Taken] = []
        self.busy: Request | None = None
        self.free_at = 0.0

    def waiting(self, oven: _Oven, t: float) -> list[Request]:
        return [
            r for r in self.open if r.block == oven.name and r.since <= t and r is not self.busy
        ]

    def step(self, t: float) -> None:
        """Do what is due at a moment: end a reading, move blocks on, begin a reading."""
        if self.busy is not None and self.free_at <= t:
            self.taken.append(Taken(request=self.busy, t=self.free_at))
            self.open.remove(self.busy)
            self.busy = None
        for oven in self.ovens.values():
            here = self.waiting(oven, t)
            held = self.busy is not None and self.busy.block == oven.name
            if here and not held and not any(r.target == oven.target for r in here):
                oven.go(_next_target(oven, here), t, self.rules)
        if self.busy is None:
            ready = [
                (max(oven.ready_at, r.since), r.since, r.member, r.point, r)
                for oven in self.ovens.values()
                for r in self.waiting(oven, t)
                if r.target == oven.target and oven.ready_at <= t
            ]
            if ready:
                self.busy = min(ready)[-1]
                self.free_at = t + self.rules.reading_s

    def following(self, t: float) -> float | None:
        """Return the next moment at which something happens; none when all is done."""
        moments = [r.since for r in self.open if r.since > t]
        if self.busy is not None:
            moments.append(self.free_at)
        moments += [
            oven.ready_at
            for oven in self.ovens.values()
            if oven.ready_at > t and self.waiting(oven, t)
        ]
        return min(moments, default=None)


def _next_target(oven: _Oven, here: Sequence[Request]) -> float:
    """Return where a block goes: upwards while there is anything above, then back to the lowest."""
    targets = sorted({r.target for r in here})
    above = [x for x in targets if oven.target is None or x > oven.target]
    return above[0] if above else targets[0]


def timeline(
    requests: Sequence[Request],
    blocks: Mapping[str, Block],
    until: float,
    seed: int,
    rules: Rules | None = None,
) -> Timeline:
    """Return what has happened up to a moment, and what comes.

    Parameters
    ----------
    requests : sequence of Request
        Points that wait, of all sensors, taken ones included.
    blocks : mapping
        The blocks by name; every block named in a request is there.
    until : float
        The moment. [s]
    seed : int
        For the settling of the blocks.
    rules : Rules, optional

    References
    ----------
    List scheduling with one reader: among the sensors whose block is ready, the one that has
    waited longest is read first.
    """
    course = _Course(requests, blocks, seed, rules or Rules())
    moment: float | None = min((r.since for r in requests), default=None)
    while moment is not None and moment <= until:
        course.step(moment)
        moment = course.following(moment)
    shown = _shown(course, until)
    last = until
    while moment is not None:
        course.step(moment)
        last, moment = moment, course.following(moment)
    coming = course.taken[len(shown.taken)] if shown.next == "?" else None
    ahead = coming.request.member if coming is not None else ""
    due = coming.t if coming is not None else None
    return Timeline(**{**vars(shown), "ends_at": last, "next": ahead, "next_at": due})


def _shown(course: _Course, t: float) -> Timeline:
    states = []
    for oven in course.ovens.values():
        here = course.waiting(oven, t)
        if course.busy is not None and course.busy.block == oven.name:
            here.append(course.busy)
        waiting = sorted({r.member for r in here if r.target == oven.target})
        states.append(
            BlockState(
                block=oven.name,
                target=oven.target,
                temperature=block_at(oven.model, oven.commands, t, oven.seed),
                ready_in_s=max(0.0, oven.ready_at - t) if waiting else 0.0,
                waiting=tuple(waiting),
                then=tuple(sorted({r.target for r in here if r.target != oven.target})),
            )
        )
    return Timeline(
        at=t,
        taken=tuple(course.taken),
        commands={name: tuple(oven.commands) for name, oven in course.ovens.items()},
        blocks=tuple(states),
        reading=course.busy.member if course.busy is not None else "",
        next="?" if course.open else "",
        ends_at=t,
    )

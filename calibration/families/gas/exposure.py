"""One exposure: which channels take part, what is typed of each, and what comes of it.

A cylinder is opened once; all its gases are read together and those to be set are set. As found
and as left follow from the one entry: what a channel showed before anything was set in it, and
what it showed last.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.method.conditions import CHANGING
from calibration.engine.method.method import Condition, Step
from calibration.families.gas import events as gas
from calibration.families.gas.airproof import asked
from calibration.families.gas.facts import channels
from calibration.families.gas.gases import SUFFIX, left_on
from calibration.families.gas.ledger import gas_of
from calibration.families.gas.words import Exposure, GasSet
from calibration.families.shared.typed import nothing_else, number
from calibration.gas.cylinder import Channel, Purpose
from calibration.kernel.errors import InputError
from calibration.kernel.own import Own

AFTER, OTHER = "_after", "_other"
#: Seconds to 90 %, and what another channel answered, where one sensor is exposed by itself.
T90, ACROSS = "_t90", "_across"
#: Its own word where it refused; the highest value on its way; the life that it shows itself.
WORD, PEAK, LIFE = "_word", "_peak", "_life"
#: The runs in which a channel is read, by what it is exposed to; the first before it is set.
FOUND: dict[str, tuple[str, ...]] = {"air": ("air_found",), "span": ("as_found", "as_left")}
#: Gases that come from no cylinder.
IN_AIR: tuple[Purpose, ...] = ("air", "absorber")


@dataclass(frozen=True)
class Seen:
    """What was typed of one channel in an exposure. [gas unit]"""

    before: Decimal | None
    after: Decimal | None = None
    other: Decimal | None = None
    #: seconds to 90 %; largest answer of another channel, in % of its range
    t90_s: Decimal | None = None
    across: Decimal | None = None
    #: its own word, where it refused to be set
    word: str = ""
    peak: Decimal | None = None
    #: by its own display [%]
    life: Decimal | None = None

    @property
    def answered(self) -> Own:
        """Return what it did in the gas beside its reading, as a reading keeps it."""
        said = {
            "t90_s": self.t90_s,
            "other_percent": self.across,
            "peak": self.peak,
            "life_percent": self.life,
        }
        return Own({name: str(value) for name, value in said.items() if value is not None})


def reads(step: Step) -> tuple[str, ...]:
    """Return the runs that an exposure reads, for every channel that there may be."""
    if not isinstance(step, Exposure):
        return ()
    if step.alone:
        return (f"as_found{SUFFIX[step.channel]}",)
    names = ("air_left",) if step.clear else FOUND.get(step.gas, ("zero_apart",))
    return tuple(name + suffix for name in names for suffix in SUFFIX)


def by_gas(ledger: Ledger) -> bool:
    """Tell whether each gas is read and set by itself, and what is refused is tried again."""
    return any(step.goes_on for step in ledger.method.steps)


def exposes(ledger: Ledger) -> bool:
    """Tell whether the method reads all gases of a cylinder in one exposure."""
    return any(isinstance(step, Exposure) for step in ledger.method.steps)


def zeroed_apart(c: Channel) -> bool:
    """Tell whether the zero of a gas is not what clean air holds: carbon dioxide."""
    return c.gas != "oxygen" and c.rest > 0


def _cylinder(ledger: Ledger, channel: int) -> str:
    chosen = ledger.kit.get(f"span_gas{SUFFIX[channel]}")
    return chosen.asset.asset if chosen is not None else f"of channel {channel}"


def untested(ledger: Ledger, channel: int) -> bool:
    """Tell whether a channel is not tested, as there is no cylinder for it here."""
    return f"span_gas{SUFFIX[channel]}" in ledger.without


def untested_gases(job: Reads) -> tuple[str, ...]:
    """Return the gases that are not tested, as there is no cylinder for them here."""
    gases = channels(job.ledger.facts)
    return tuple(c.label for n, c in enumerate(gases) if untested(job.ledger, n))


def not_tested(job: Reads) -> tuple[str, ...]:
    """Return what the paper says of gases that were not tested."""
    return tuple(f"{label}: not tested, no gas for it here." for label in untested_gases(job))


def taking_part(ledger: Ledger, step: Exposure) -> tuple[int, ...]:
    """Return the channels of an exposure; none of a cylinder that an earlier one opens."""
    gases = channels(ledger.facts)
    if step.alone:
        there = step.channel < len(gases) and not untested(ledger, step.channel)
        return (step.channel,) if there else ()
    if step.gas == "air":
        return tuple(range(len(gases)))
    if step.gas != "span":
        return tuple(n for n, c in enumerate(gases) if zeroed_apart(c))
    if step.channel >= len(gases):
        return ()
    if untested(ledger, step.channel):
        return ()
    own = _cylinder(ledger, step.channel)
    found = tuple(n for n in range(len(gases)) if _cylinder(ledger, n) == own)
    return found if found[0] == step.channel else ()


def span_is_set(ledger: Ledger, channel: int) -> bool:
    """Tell whether the span of a channel is set in the plant: of light, only the zero is.

    What an infrared head answers is in its lamp and windows.
    """
    return channels(ledger.facts)[channel].principle != "infrared"


def may_set(job: Reads, step: Exposure, channel: int) -> bool:
    """Tell whether a channel may be set in an exposure.

    Oxygen is set in clean air; carbon dioxide in air only where that is its zero.
    """
    c = channels(job.ledger.facts)[channel]
    if step.clear:
        return False
    if step.gas == "span":
        if step.goes_on and not span_is_set(job.ledger, channel):
            return False
        return step.alone or c.gas != "oxygen"
    if step.gas == "air" and zeroed_apart(c):
        return job.settings.choice("zero_by") == "outdoor air"
    return True


def end_of(ledger: Ledger, step: Exposure, channel: int) -> Literal["zero", "span"]:
    """Return which end of a channel an exposure sets: air is the span of oxygen."""
    oxygen = channels(ledger.facts)[channel].gas == "oxygen"
    return "span" if step.gas == "span" or (oxygen and step.gas == "air") else "zero"


def as_set(job: Reads, step: Exposure, channel: int) -> GasSet:
    """Return the setting of one channel in an exposure, as a step of its own would be."""
    return GasSet(
        id=step.id,
        stage=step.stage,
        kind=step.kind,
        title=step.title,
        instruction=step.instruction,
        why=step.why,
        end=end_of(job.ledger, step, channel),
        gas=step.gas,
        channel=channel,
        goes_on=step.goes_on,
    )


def compared(ledger: Ledger, step: Exposure, c: Channel) -> bool:
    """Tell whether another instrument is read beside: in air in which something is set."""
    return step.gas == "air" and not step.clear and (c.gas != "oxygen" or asked(ledger))


def seen_of(ledger: Ledger, step: Exposure, content: gas.Exposed) -> dict[int, Seen]:
    """Return what was typed, by channel.

    Raises
    ------
    InputError
        those of a number; ``value.missing``, ``field.unknown``.
    """
    gases = channels(ledger.facts)
    found, rest = {}, dict(content.own.values)
    for n in taking_part(ledger, step):
        name = gases[n].id
        before = number(rest, name)
        after, other = number(rest, name + AFTER), number(rest, name + OTHER)
        timed = step.alone and step.gas == "span"
        t90 = number(rest, name + T90) if timed else None
        across = number(rest, name + ACROSS) if timed else None
        word = rest.pop(name + WORD, "").strip() if step.goes_on else ""
        more = {}
        if step.goes_on and step.gas == "span":
            more = {"peak": number(rest, name + PEAK), "life": number(rest, name + LIFE)}
        if before is None and not (step.goes_on and after is not None):
            raise InputError(
                "value.missing",
                f"data.{name}",
                f"{gases[n].label}: what it shows is missing.",
                "Type what it shows.",
            )
        found[n] = Seen(before, after, other, t90, across, word, **more)
    nothing_else(rest)
    return found


def done(job: Reads, step: Step) -> bool:
    """Tell whether an exposure was made and its gas is shut."""
    return made(job, step) and not left_on(job.ledger, step)


def made(job: Reads, step: Step) -> bool:
    """Tell whether an exposure was made since it was last decided that it is to be."""
    last = gas_of(job.ledger).exposed.get(step.id)
    if last is None:
        return False
    judged = job.ledger.method.judging("found")
    decided = job.ledger.decided.get(judged.id) if judged is not None else None
    again = decided is not None and decided[0].choice in CHANGING
    clear = isinstance(step, Exposure) and step.clear
    return clear or not again or decided is None or last.seq > decided[1].seq


def touched(job: Reads) -> bool:
    """Tell whether anything was set, put right, or is to be."""
    return job.ledger.changes > 0 or job.chosen() in CHANGING


def standing_outside(job: Reads) -> bool:
    """Tell whether a channel reads outside as it stands, once every gas was on.

    By what was left; where that was not read, by what was found.
    """
    exposures = (s for s in job.ledger.method.steps if isinstance(s, Exposure) and not s.clear)
    if not all(made(job, step) for step in exposures if job.possible(step)):
        return False
    return any(job.figures(name).mark == "outside" for name in standing_runs(job))


def standing_runs(job: Reads) -> tuple[str, ...]:
    """Return the run by which each channel stands: as left where it was read, else as found.

    What was read again once something was put right comes in the place of what was found.
    """
    names = []
    for n in range(len(channels(job.ledger.facts))):
        left, found = f"as_left{SUFFIX[n]}", f"as_found{SUFFIX[n]}"
        read = bool(job.ledger.readings[left])
        again = job.ledger.method.run(found).again
        anew = by_gas(job.ledger) and job.ledger.readings[again]
        names.append(left if read else again if anew else found)
        if not read:
            names += [f"air_found{SUFFIX[n]}", f"zero_apart{SUFFIX[n]}"]
    return tuple(n for n in names if job.ledger.readings[n])


def _channel_set(job: Reads, step: Step) -> bool:
    moves = gas_of(job.ledger).moves
    return job.chosen() in CHANGING or any(move.channel == step.channel for move in moves)


def _to_be_proven(job: Reads, step: Step) -> bool:
    """Tell whether what was set of a sensor is proven; not where its span was refused and left."""
    part = gas_of(job.ledger)
    spans = [s for s in job.ledger.method.steps if isinstance(s, Exposure) and s.gas == "span"]
    left = any(s.id in part.kept for s in spans if s.channel == step.channel)
    return _channel_set(job, step) and not left


TO_BE_PROVEN = Condition(_to_be_proven, "only if something was set in it")
CHANNEL_SET = Condition(_channel_set, "only if something was set in it")
OUTSIDE_UNTOUCHED = Condition(
    lambda job, step: standing_outside(job) and not job.ledger.changes,
    "only if a gas reads outside and nothing was set",
)
OUTSIDE_AFTERWARDS = Condition(
    lambda job, step: standing_outside(job) and touched(job),
    "only if a gas is still outside afterwards",
)


def found_run(step: Exposure, channel: int) -> str:
    """Return the run in which a channel is read first in an exposure."""
    if step.alone:
        return f"as_found{SUFFIX[channel]}"
    name = "air_left" if step.clear else FOUND.get(step.gas, ("zero_apart",))[0]
    return name + SUFFIX[channel]


def unset(ledger: Ledger, channel: int, seen: Decimal, before: int) -> Decimal:
    """Return what a channel would have shown had nothing been set in it so far. [gas unit]

    ``before``: the number of the entry that read it. A zero that was set is added back; a span
    that was set, as that of oxygen in clean air, is divided out.
    """
    for move in reversed(gas_of(ledger).moves):
        if move.channel == channel and move.event.seq < before and move.before is not None:
            if move.end == "zero":
                seen += move.before - move.after
            elif move.after:
                seen *= move.before / move.after
    return seen

"""What a job keeps of plugs and of the lines of the tester."""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal

from calibration.engine.job.events import Event, ReadingTaken
from calibration.engine.job.ledger import Ledger, Part, Taken
from calibration.families.magmeter.events import LinesRead, Plugged
from calibration.families.magmeter.facts import TestLine, meter, noted
from calibration.families.magmeter.words import RUN_FIELDS, Plugging, plugs
from calibration.families.shared.typed import nothing_else, number
from calibration.kernel.errors import InputError
from calibration.kernel.rounding import fixed
from calibration.measuring.electromagnetic import TestOut, VerifierTest, VerifyIn, magmeter_verify

#: A line of yes or no that is not: twice its limit. [%]
NOT_SO = Decimal(200)


@dataclass
class MagPart(Part):
    """Plugs and lines."""

    #: by step: plugs in their place, in the order in which it was said
    plugged: dict[str, list[str]] = field(default_factory=dict)
    read: dict[str, Event] = field(default_factory=dict)
    #: every time that the lines were read: title, content, event
    every: list[tuple[str, LinesRead, Event]] = field(default_factory=list)

    def begin_again(self) -> None:
        """Begin a round: the lines are read anew; the plugs stay where they are."""
        self.read = {}


def part_of(ledger: Ledger) -> MagPart:
    """Return what a job keeps of the family's own."""
    return ledger.part(MagPart)


def order_of(ledger: Ledger, step: Plugging) -> tuple[str, ...]:
    """Return the plugs of a step in the order in which they go in, or come out."""
    names = tuple(p.id for p in plugs(meter(ledger.facts)) if not step.which or p.id in step.which)
    return names if step.way == "in" else names[::-1]


def add_plugged(ledger: Ledger, content: Plugged, event: Event) -> None:
    """Put a plug where it belongs, or take it out."""
    step = ledger.method.step(content.step)
    if not isinstance(step, Plugging):
        return
    done = part_of(ledger).plugged.setdefault(step.id, [])
    every = order_of(ledger, step)
    done += [n for n in every if n not in done] if content.plug == "all" else [content.plug]


def values_of(ledger: Ledger, content: LinesRead) -> dict[str, Decimal]:
    """Return what was read, by the short name of a line.

    Raises
    ------
    InputError
        those of a number; ``value.missing``, ``field.unknown``.
    """
    found, rest = {}, dict(content.own.values)
    for line in meter(ledger.facts).lines:
        value = number(rest, line.id)
        if value is None:
            raise InputError(
                "value.missing",
                f"data.{line.id}",
                f"{line.label}: what the tester says is missing.",
                "Every line is read; a verification is whole or it is none.",
            )
        found[line.id] = value
    nothing_else(rest)
    return found


def judged(ledger: Ledger, values: dict[str, Decimal]) -> tuple[TestOut, ...]:
    """Return every line held against its stored value; copper turned to 20 °C.

    References
    ----------
    :func:`calibration.measuring.electromagnetic.magmeter_verify`; IEC 60028.
    """
    warm = noted(ledger, RUN_FIELDS, "coil_c")
    return magmeter_verify(
        VerifyIn(
            tests=tuple(_test(line, values[line.id], warm) for line in meter(ledger.facts).lines)
        )
    ).tests


def _test(line: TestLine, value: Decimal, warm: Decimal | None) -> VerifierTest:
    return VerifierTest(
        name=line.label,
        measured=value,
        reference=line.reference,
        limit_percent=line.limit_percent,
        kind=line.kind,
        limit=line.limit,
        coil_c=warm if line.copper else None,
    )


def share_of(out: TestOut) -> Decimal:
    """Return by how much of its limit a line is off, signed; beyond 100 it fails. [%]"""
    if out.share_of_limit_percent is None:
        return Decimal(0) if out.passed else NOT_SO
    share = fixed(out.share_of_limit_percent, 1)
    return share if out.deviation >= 0 else -share


def add_lines(ledger: Ledger, content: LinesRead, event: Event) -> None:
    """Add every line as a point: by which share of its limit it is off."""
    step, part = ledger.method.step(content.step), part_of(ledger)
    part.read[content.step] = event
    part.every.append((step.title if step is not None else content.step, content, event))
    run = ledger.method.found.id
    for n, out in enumerate(judged(ledger, values_of(ledger, content))):
        reading = ReadingTaken(run=run, point=n, applied=Decimal(0), reading=share_of(out))
        ledger.readings[run][n] = Taken(reading, event)

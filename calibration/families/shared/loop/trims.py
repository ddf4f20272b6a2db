"""One adjustment of a hop or a screw, or a check of one end in between."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.engine.admission.admit_values import not_blocked
from calibration.engine.job.events import Event
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Ledger, Part
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import family_of, kind_of
from calibration.engine.method.method import Method
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED
from calibration.kernel.rounding import as_typed
from calibration.signals.transfer import ideal_output, indicated_span, indication

KIND = "adjusted"
Hop = Literal["sensor", "output", "receiver", "transmitter"]
End = Literal["zero", "span"]
HOP_WORDS = {
    "sensor": "sensor trim",
    "output": "output trim",
    "receiver": "receiver scaling",
    "transmitter": "transmitter adjustment",
}
#: The decision by which adjusting ends before both ends are steady.
ENOUGH = "enough"
ENDS = {ENOUGH: "adjusting ended early"}


@dataclass(frozen=True, kw_only=True)
class Loop:
    """How the instruments of a method are adjusted."""

    #: zero and span move each other; else hop by hop, zero and span apart
    screws: bool = False
    #: screws are aimed by what was read at the ends, not by the line of best fit
    by_ends: bool = False
    #: an output is trimmed at currents that the device gives itself, with nothing applied
    fixes_output: bool = False


def way(method: Method) -> Loop:
    """Return how the instruments of a method are adjusted."""
    return method.own if isinstance(method.own, Loop) else Loop()


@dataclass(frozen=True, kw_only=True)
class Adjusted:
    """One adjustment, or a check of one end between adjustments; values are those after it."""

    hop: Hop = about("what was adjusted")
    end: End = about("zero or span")
    action: Literal["trim", "check"] = about("trim changes the device; check only reads")
    applied: Decimal = about("value applied", unit="input unit")
    reading: Decimal | None = about("output after it", unit="output unit", default=None)
    digital: Decimal | None = about("digital value after it", unit="input unit", default=None)
    indicated: Decimal | None = about("control room after it", unit="input unit", default=None)
    before: Decimal | None = about("value that was trimmed, before it", default=None)
    kept: bool = about("a question about a slip was answered with: keep it", default=False)


class Trims(Part):
    """What a job keeps of what was adjusted."""

    def __init__(self) -> None:
        self.all: list[tuple[Adjusted, Event]] = []
        #: how many there were when the present round began
        self._begun = 0

    def begin_again(self) -> None:
        """Begin a round: what went before is adjusted from no more."""
        self._begun = len(self.all)

    @property
    def now(self) -> list[Adjusted]:
        """Return what was adjusted in the present round."""
        return [content for content, _ in self.all[self._begun :]]


def trims_of(ledger: Ledger) -> Trims:
    """Return what a job keeps of what was adjusted."""
    return ledger.part(Trims)


def add(ledger: Ledger, content: Adjusted, event: Event) -> None:
    """Adjust it."""
    trims_of(ledger).all.append((content, event))
    ledger.changes += content.action == "trim"


def hop_error(facts: InstrumentFacts, content: Adjusted) -> Decimal | None:
    """Return the error of the adjusted hop after the event; none when a value is missing.

    In percent of span, between the two stations that bound the hop.
    """
    transfer = facts.transfer
    if content.hop == "sensor":
        if content.digital is None:
            return None
        return HUNDRED * (content.digital - content.applied) / abs(transfer.input_span)
    if content.reading is None:
        return None
    if content.hop == "receiver":
        if content.indicated is None:
            return None
        seen = indication(transfer, facts.receiver, content.reading)
        return HUNDRED * (content.indicated - seen) / indicated_span(transfer, facts.receiver)
    start = content.applied
    if content.hop == "output" and content.digital is not None:
        start = content.digital
    return HUNDRED * (content.reading - ideal_output(transfer, start)) / abs(transfer.output_span)


def admit(job: Reads, event: Event, known: dict[str, Event]) -> None:
    """Refuse an adjustment without its value; ask about one that is still far off.

    Raises
    ------
    InputError
        ``number.missing``, ``slip.suspected``.
    """
    content = event.content
    not_blocked(job, job.step_of("adjust", "kind"))
    error = hop_error(job.base.facts, content)
    needed = {"sensor": "digital", "receiver": "indicated"}.get(content.hop, "reading")
    if error is None:
        raise InputError(
            "number.missing",
            f"data.{needed}",
            "The value after the adjustment is missing.",
            "Type what it reads now.",
        )
    asked = event.source == "typed" and not content.kept
    if abs(error) > job.settings.number("suspect_percent") and asked:
        raise InputError(
            "slip.suspected",
            f"data.{needed}",
            f"After adjusting, that is still {abs(error):.1f} % of span off. Keep it?",
            "Correct it or keep it.",
        )


def in_words(ledger: Ledger, content: Adjusted) -> str:
    """Return it in words, from what to what."""
    method = ledger.method
    facts = kind_of(family_of(method), method.found).facts(ledger, method.found)
    after, unit = {
        "sensor": (content.digital, facts.input_unit),
        "receiver": (content.indicated, facts.shown_unit),
    }.get(content.hop, (content.reading, facts.output_unit))
    shown, at = as_typed(after) if after is not None else "?", as_typed(content.applied)
    if content.action == "check":
        return f"Check of {content.end} at {at} {facts.input_unit}: {shown} {unit}"
    before = f"{as_typed(content.before)} to " if content.before is not None else ""
    return (
        f"{HOP_WORDS[content.hop].capitalize()}, {content.end}, at {at} "
        f"{facts.input_unit}: {before}{shown} {unit}"
    )

"""Re-ranging: another range is written to the device. It is a change, and never called calibration.

The new range is checked at three points of its own, and proposed to the record.
"""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.ledger import Ledger
from calibration.engine.method.conditions import FOUND_OUTSIDE, to_write
from calibration.engine.method.method import Field, Item, Method, RunSpec, SetItem, Step
from calibration.families.shared import limits, parts
from calibration.families.shared.loop.run import LoopRun
from calibration.families.shared.pressure import CONNECT, DISCONNECT, PRESSURE
from calibration.families.smart.method import ANSWERS, LOOP, MOVES
from calibration.kernel.numbers import parse_decimal

#: What a setting of the new range is set to, by the family's word.
NEW = "new range"
ORDER = "new_range"
_FIELDS = {"lower": "new_lower", "upper": "new_upper"}


def new_range(ledger: Ledger) -> tuple[Decimal, Decimal] | None:
    """Return the range that was ordered; none while it is not written down."""
    said = [ledger.recorded.get((ORDER, name)) for name in _FIELDS.values()]
    if said[0] is None or said[1] is None:
        return None
    low, high = (parse_decimal(entry[0], "value") for entry in said if entry is not None)
    return (low, high) if low != high else None


def target(ledger: Ledger, setting: str) -> str:
    """Return what a setting is set to; empty while the new range is not written down."""
    entry = ledger.recorded.get((ORDER, _FIELDS[setting]))
    return entry[0] if entry is not None else ""


class Reranged(LoopRun):
    """A run of the instrument at the range that was written to it."""

    id = "reranged"

    def facts(self, ledger: Ledger, spec: RunSpec) -> InstrumentFacts:
        """Return the instrument with its new range, as its output alone.

        How the receiver is scaled is its own matter, and said by who did it.
        """
        found = new_range(ledger)
        if found is None:
            return ledger.facts
        return replace(ledger.facts, input_lower=found[0], input_upper=found[1], indicated=False)


NEW_RANGE = Step(
    id=ORDER,
    stage="plan",
    kind="record",
    title="The new range, and who ordered it",
    instruction="Write down the range that is ordered, and by whom.",
    why="A range is a setting of the plant: trips, alarms and the receiver count by it.",
    fields=(
        Field(
            id="new_lower",
            barred="It is what is written to the device.",
            label="New lower range value",
            kind="number",
            unit="input",
        ),
        Field(
            id="new_upper",
            barred="It is what is written to the device.",
            label="New upper range value",
            kind="number",
            unit="input",
        ),
        Field(
            id="ordered_by",
            barred="No range is changed without an order.",
            label="Ordered by",
            hint="name or number of the change",
        ),
    ),
)
WRITE = Step(
    id="write_range",
    stage="adjust",
    kind="set",
    title="Write the new range",
    instruction="Write the new range to the device by its numbers, and read it back.",
    why="By numbers, and never by what is applied now: that would make the pressure of the moment "
    "the 0 %.",
    caution=MOVES,
    only_if=to_write("once the range that is set now is read"),
    sets=(
        SetItem(id="lower", label="Lower range value", unit="input", to=NEW),
        SetItem(id="upper", label="Upper range value", unit="input", to=NEW),
    ),
)
RECEIVER = Step(
    id="control_room",
    stage="adjust",
    kind="checklist",
    title="Control room, alarms, trips",
    instruction="Have the receiver scaled to the new range, and go through what counts by it.",
    why="A receiver with the old scale shows a wrong value that looks healthy.",
    caution="A trip point in percent moves with the range: it protects at another value now.",
    items=(
        Item(id="scaled", label="Receiver scaled to the new range", must=True),
        Item(id="trips", label="Alarm and trip points gone through with the operator", must=True),
        Item(id="label", label="Scale or label at the instrument changed"),
    ),
)
CHECK = RunSpec(
    id="as_found",
    title="At the new range",
    kind=Reranged.id,
    role="found",
    again="base",
    before=False,
    percents=("0", "50", "100"),
    pattern="up",
    within="The new range reads as it should.",
)
SMART_RERANGE = Method(
    id="smart_rerange",
    version=1,
    title="Re-ranging of a smart transmitter",
    called="re-ranging",
    fits="Another range is ordered. It is a change of settings, and no calibration.",
    paper="Record of re-ranging",
    sets=False,
    outcomes={"within": "range changed, read back and checked"},
    runs=(CHECK,),
    steps=(
        NEW_RANGE,
        parts.kit(PRESSURE, parts.METER, names="the pressure reference and the meter"),
        parts.OPERATOR,
        parts.BYPASS,
        parts.ISOLATE,
        parts.IDENTITY,
        LOOP,
        CONNECT,
        ANSWERS,
        parts.settings(parts.LOWER, parts.UPPER, what="the range that is set now"),
        WRITE,
        RECEIVER,
        replace(
            parts.as_found(),
            stage="left",
            title="Check at the new range",
            instruction="Apply the new range: its lower end, its middle, its upper end.",
            why="What was written counts only where the output follows it.",
        ),
        replace(
            parts.JUDGE,
            stage="left",
            instruction="It reads outside at the new range: calibrate it next, or stop.",
            why="A new range does not cure an error, and may show one.",
            only_if=FOUND_OUTSIDE,
        ),
        DISCONNECT,
        parts.restore(parts.VALVES, parts.COVERS, Item(id="settings", label="Settings backed up")),
        parts.UNBYPASS,
        parts.SIGN,
    ),
    parameters=limits.parameters(
        without=("points", "pattern", "cycles", "adjust_to_share", "warm_up_minutes", "school")
    ),
    sources=parts.SOURCES,
)

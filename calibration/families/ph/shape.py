"""How a method is fitted to one analyzer: its buffers, and what is asked about its answers."""

from __future__ import annotations

from calibration.analyzers.ph import SLOPES_DIFFER
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Field, KitRole, Step
from calibration.engine.method.shape import Shape
from calibration.families.ph.conditions import pair_of
from calibration.families.ph.found import line_by
from calibration.families.ph.ledger import REPORTED
from calibration.families.ph.tells import APART, TELLS
from calibration.families.ph.values import roles_of, table_for
from calibration.families.ph.words import THIRD
from calibration.kernel.numbers import parse_decimal
from calibration.kernel.rounding import show


class ElectrodeShape(Shape):
    """The steps of a method as they are for one analyzer."""

    def roles(self, job: Reads, step: Step) -> tuple[KitRole, ...]:
        """Return the references of a step; the third buffer where the site reads one."""
        third = job.settings.says_yes("third_buffer")
        milliamps = job.ledger.facts.output_unit == "mA"
        return tuple(
            r
            for r in step.roles
            if (r.id != THIRD or third) and (milliamps or r.quantity != "output")
        )

    def fields(self, job: Reads, step: Step) -> tuple[Field, ...]:
        """Return the fields of a step; of what tells causes apart, the one that does."""
        if step.id != "apart":
            return step.fields
        pair = pair_of(job)
        if not pair:
            return ()
        id, label, unit = APART[pair]
        found = job.ledger.method.found
        last = roles_of(job.ledger, job.settings, found)[-1]
        label = label.format(last=table_for(job.ledger, last).nominal)
        return (Field(id=id, label=label, kind="number", unit=unit, hint=TELLS[pair]),)

    def question(self, job: Reads, step: Step, field: Field, value: str) -> str:
        """Return what to ask about a value that was written down; empty when nothing."""
        if (step.id, field.id) == (REPORTED, "slope"):
            return self._reported(job, value)
        if (step.id, field.id) == (REPORTED, "offset"):
            most = job.settings.number("offset_limit_mv")
            if abs(parse_decimal(value, field.id)) > most:
                return (
                    f"An offset beyond ±{most} mV is refused: the reference is fouled or poisoned. "
                    "Clean it again or replace it. Read right?"
                )
        if (step.id, field.id) == ("compare", "grab"):
            return self._compared(job, value)
        if field.id == "buffer_c" and not 5 <= parse_decimal(value, field.id) <= 40:
            return "Buffers are measured between 5 and 40 °C. Read right?"
        return ""

    def _reported(self, job: Reads, value: str) -> str:
        """Ask about the slope that the analyzer reports: its limits, and ours beside it."""
        slope = float(parse_decimal(value, "slope"))
        line = line_by(job, "calibrated")
        if line is not None and abs(slope / line.percent - 1) > SLOPES_DIFFER:
            return (
                f"It reports {slope:.1f} % where these millivolts and bottles give "
                f"{line.percent:.1f} %, {100 * slope / line.percent:.1f} % of it: it counts other "
                "buffers or another temperature than were poured. Compare the set programmed with "
                "the bottles, put it right and calibrate again. Read right?"
            )
        low, high = (job.settings.number(f"slope_{end}_percent") for end in ("low", "high"))
        if not float(low) <= slope <= float(high):
            return (
                f"A slope outside {low} to {high} % is refused: clean the electrode again, use "
                "fresh buffer, then replace it. Read right?"
            )
        return ""

    def _compared(self, job: Reads, value: str) -> str:
        """Ask when process and grab sample differ, once it is back."""
        if not differs(job):
            return ""
        return (
            f"{differs(job)} Same temperature, closed sample, flow on? Right in buffers and wrong "
            "here is an earth current, or a sample that is not the process."
        )


def differs(job: Reads) -> str:
    """Return how far the process reads from the grab sample, once it is back; empty within."""
    shown = job.ledger.recorded.get(("compare", "process_shown"))
    grab = job.ledger.recorded.get(("compare", "grab"))
    if shown is None or grab is None:
        return ""
    off = parse_decimal(shown[0], "process_shown") - parse_decimal(grab[0], "grab")
    most = job.settings.number("compare_ph")
    if abs(off) <= most:
        return ""
    return f"The process reads {show(off, 2, sign=True)} pH from the grab sample; {most} at most."


def lacks(job: Reads) -> tuple[str, ...]:
    """Return that the result is not the process's: right in buffers is not enough."""
    found = differs(job)
    return (found.rstrip("."),) if found else ()

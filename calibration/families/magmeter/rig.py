"""A virtual meter with its tester as it goes along with a job."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from calibration.engine.files.device_file import serial_of
from calibration.engine.job.facts import InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Step
from calibration.engine.view.state import Station
from calibration.families.magmeter import model as own
from calibration.families.magmeter.entries import tested
from calibration.families.magmeter.facts import meter
from calibration.families.magmeter.model import MACHINE, MagModel
from calibration.families.magmeter.words import Testing
from calibration.kernel.rounding import fixed
from calibration.simulate.alongside import Part
from calibration.simulate.commands import Command, Live
from calibration.simulate.machine import Follows, MachineWatched
from calibration.simulate.rigs import Model


@dataclass(frozen=True)
class LineWatched(MachineWatched):
    """One line of the tester as it is looked at."""

    line: int = 0

    def model(self, model: Model) -> Model:
        """Return the meter with this line shown."""
        return replace(model, shown=self.line) if isinstance(model, MagModel) else model

    def says(self, model: Model, commands: Sequence[Command], t: float) -> bool:
        """Tell whether the tester has come to this line."""
        return isinstance(model, MagModel) and own.read_at(
            model, self.machine.at(model, commands, t)
        )

    def stations(self, facts: InstrumentFacts, now: Live) -> tuple[Station, ...] | None:
        """Return nothing: a line has no loop."""
        return None


class MagRig(Follows):
    """The tester runs as soon as it has power."""

    def parts(self, job: Reads, step: Step, t: float) -> tuple[Part, ...]:
        """Return every line of the tester."""
        if not isinstance(step, Testing) or tested(job, step):
            return ()
        return tuple(
            Part(
                name=line.id,
                after="",
                label=line.label,
                unit=line.unit,
                run=job.ledger.method.found.id,
                watched=LineWatched(self.machine, None, n),
                order=None,
            )
            for n, line in enumerate(meter(job.ledger.facts).lines)
        )

    def file(
        self, job: Reads, model: Model, commands: Sequence[Command], t: float, seed: int
    ) -> str:
        """Return the report as the tester writes it: records, in JSON."""
        if not isinstance(job.current, Testing) or not isinstance(model, MagModel):
            return ""
        state = self.machine.at(model, commands, t)
        lines: list[dict[str, Any]] = [
            {
                "test": line.label,
                "measured": str(fixed(own.shown(model, state, n, seed), own.places(line))),
                "unit": line.unit,
            }
            for n, line in enumerate(model.lines)
        ]
        report = {"serial": serial_of(job), "program": "4.2", "tests": lines}
        return json.dumps(report, indent=1, ensure_ascii=False) + "\n"


def read_lines(person: Any, state: Any, ask: Any, todo: Any) -> list[tuple[str, dict[str, Any]]]:
    """Let the tester run and write every line down, as a virtual technician does."""
    if ask.sends is None or ask.sends.kind != "lines_read":
        return MACHINE._task(person, state, ask, todo)
    person.t += own.LINE_S * (len(person.model.lines) + 1)
    now = MACHINE.at(person.model, person.commands, person.t)
    found: dict[str, Any] = {"step": todo.step}
    for n, line in enumerate(person.model.lines):
        value = own.shown(person.model, now, n, person.seed)
        found[line.id] = str(fixed(value, own.places(line)))
    return [(ask.sends.kind, found)]

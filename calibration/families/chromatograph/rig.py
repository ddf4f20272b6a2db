"""A virtual chromatograph as it goes along with a job, and as a technician works at it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from calibration.engine.files.device_file import serial_of
from calibration.engine.job.events import Event
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.method import Step
from calibration.engine.view.state import Station
from calibration.families.chromatograph import model as own
from calibration.families.chromatograph.facts import peaks
from calibration.families.chromatograph.injections import AT
from calibration.families.chromatograph.ledger import part_of
from calibration.families.chromatograph.model import GcModel
from calibration.families.chromatograph.words import GAS, Injection
from calibration.families.shared.contents import PPM_PER_PERCENT, holds
from calibration.families.shared.loop.strip import stations
from calibration.kernel.rounding import fixed
from calibration.simulate.alongside import Alongside, Part, Truth, Watched, finishes
from calibration.simulate.commands import Command, Live, Share
from calibration.simulate.rigs import KINDS, Model, RigKind

#: A run takes so long. [s]
RUN_S = 180.0
ORDERS = ("gas", "air", "fresh_air", "recondition")


@dataclass(frozen=True)
class PeakWatched(Watched):
    """One component of the newest run."""

    line: int

    on_display = True

    def model(self, model: Model) -> Model:
        """Return the chromatograph with this component shown."""
        return replace(model, shown=self.line) if isinstance(model, GcModel) else model

    def stations(self, facts: InstrumentFacts, now: Live) -> tuple[Station, ...]:
        """Return the component at each station."""
        return stations(facts, now.applied, None, now.output, None, "")

    def seen(
        self, model: Model, commands: Sequence[Command], t: float, seed: int
    ) -> Mapping[str, Any]:
        """Return when it came."""
        _, at = own.results(model, commands, t, seed)[self.line]
        return {"at_s": str(fixed(at, 1))}


def contents(asset: AssetFacts, really: Mapping[str, Any]) -> tuple[Share, ...]:
    """Return what comes out of a bottle, by its label or by what it really holds. [% vol]"""
    found = []
    for part in holds(asset).parts:
        percent = part.value if part.unit == "% vol" else part.value / PPM_PER_PERCENT
        found.append(Share(gas=part.gas, percent=float(percent) * really.get(part.gas, 1.0)))
    return tuple(found)


def inject(t: float, order: str, mix: tuple[Share, ...]) -> Command:
    """Return the command that injects."""
    return Command(t=t, kind="tell", setting="inject", text=order, mix=mix)


class GcRig(Alongside):
    """A chromatograph follows the entries of the job."""

    commanded = False

    def run(self, job: Reads) -> str:
        """Return the run as which the result is seen: that of the first component."""
        return job.ledger.method.found.id

    def watched(self, job: Reads) -> Watched:
        """Return the first component."""
        return PeakWatched(line=0)

    def order(
        self, job: Reads, event: Event, t: float, pace: float, truth: Truth
    ) -> Command | None:
        """Return what an entry does: a leak test is followed by its injection."""
        if event.kind == "stored":
            return Command(t=t, kind="tell", setting="store")
        step = job.ledger.method.step(getattr(event.content, "step", ""))
        if event.kind != "confirmed" or step is None or step.order not in ORDERS:
            return None
        if not finishes(job, step, event):
            return None
        if step.order == "recondition":
            return Command(t=t, kind="tell", setting="recondition")
        if step.order == "gas":
            asset = job.ledger.kit[GAS].asset
            return inject(t, "gas", contents(asset, truth(asset.asset) or {}))
        return Command(t=t, kind="tell", setting="inject", text=step.order)

    def file(
        self, job: Reads, model: Model, commands: Sequence[Command], t: float, seed: int
    ) -> str:
        """Return the newest run as this device writes it: minutes, with a decimal comma."""
        if not isinstance(job.current, Injection) or not isinstance(model, GcModel):
            return ""
        lines = [f"Device;{serial_of(job)}", f"Step;{job.current.title}", ""]
        lines.append("Peak;Gas;RT (min);Conc (ppm)")
        own_peaks, found = peaks(job.ledger.facts), own.results(model, commands, t, seed)
        for n, (peak, (shows, at)) in enumerate(zip(own_peaks, found, strict=True)):
            row = f"{n + 1};{peak.gas};{fixed(at / 60, 4)};{fixed(shows, 1)}"
            lines.append(row.replace(".", ","))
        return "\n".join(lines) + "\n"

    def parts(self, job: Reads, step: Step, t: float) -> tuple[Part, ...]:
        """Return every component of the newest run."""
        if not isinstance(step, Injection) or step.id in part_of(job.ledger).injections:
            return ()
        return tuple(
            Part(
                name=peak.id,
                after="",
                label=peak.label,
                unit="ppm",
                run=job.ledger.method.found.id,
                watched=PeakWatched(line=n),
                order=None,
                also={"at_s": peak.id + AT},
            )
            for n, peak in enumerate(peaks(job.ledger.facts))
        )


def _tell(person: Any, order: str) -> None:
    if order == "recondition":
        person.commands.append(Command(t=person.t, kind="tell", setting="recondition"))
    elif order == "gas":
        person.commands.append(inject(person.t, "gas", person.bottles.get(GAS, ())))
    elif order in ORDERS:
        mix = own.air(person.model, order == "fresh_air")
        person.commands.append(inject(person.t, order, mix))
    person.t += RUN_S


def _task(person: Any, state: Any, ask: Any, todo: Any) -> list[tuple[str, dict[str, Any]]]:
    """Read every component of the newest run, or let the mean be stored."""
    if ask.way == "state":
        person.commands.append(Command(t=person.t, kind="tell", setting="store"))
        person.t += 10.0
        return [(event.kind, dict(event.data)) for event in ask.also]
    found: dict[str, Any] = {"step": todo.step}
    seen = own.results(person.model, person.commands, person.t, person.seed)
    for line, (shows, at) in zip(person.model.lines, seen, strict=True):
        found[line.id] = str(fixed(shows, 1))
        if shows >= 1:
            found[line.id + AT] = str(fixed(at, 1))
    return [(ask.sends.kind, found)]


KINDS["chromatograph"] = RigKind(
    model=GcModel,
    live=own.live,
    window=own.window,
    stands=True,
    settings=own.settings_at,
    reach=lambda model: (0.0, 0.0),
    task=_task,
    tell=_tell,
)

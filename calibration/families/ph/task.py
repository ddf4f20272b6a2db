"""What a step with a buffer asks for now: pour and rinse, read, let the analyzer take it."""

from __future__ import annotations

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import STAGES, Step
from calibration.engine.method.run_kind import stands_for
from calibration.engine.view.asks import Ask, Sent
from calibration.engine.view.blocks import Block, Row
from calibration.families.ph.facts import analyzer, bottle
from calibration.families.ph.found import electrodes
from calibration.families.ph.kinds import BUFFERS
from calibration.families.ph.values import (
    POURED_ML,
    in_it,
    next_role,
    roles_of,
    run_of,
    table_for,
    temperature_c,
    value_of,
)
from calibration.families.ph.words import BufferRun
from calibration.families.shared.display import columns, read
from calibration.kernel.rounding import show

EARLY = ("It will not get steadier", "It hardly answers")
POUR = "Two portions: rinse in the first, measure in the second. Never pour one back."


def task(job: Reads) -> Ask | None:
    """Return what the present step asks for; none where it wants no buffer."""
    step = job.current
    spec = run_of(job, step)
    if spec is None or step is None:
        return None
    role = next_role(job, spec)
    if not role:
        return None
    place = roles_of(job.ledger, job.settings, spec).index(role)
    name = table_for(job.ledger, role).nominal
    accept = Sent(kind="buffer_accepted", data={"step": step.id, "role": role})
    if place in job.ledger.readings[spec.id]:
        return _task(job, spec, role, -1, f"The analyzer takes {name}", (accept,))
    if not in_it(job, spec, role):
        into = Sent(kind="buffer_in", data={"step": step.id, "role": role})
        return _task(job, spec, role, -1, f"Rinsed, and in the second portion of {name}", (into,))
    label = f"Take it, and let the analyzer take {name}" if spec.accepts else "Take reading"
    return _task(job, spec, role, place, label, (accept,) if spec.accepts else ())


def _task(
    job: Reads, spec: BufferRun, role: str, point: int, label: str, events: tuple[Sent, ...]
) -> Ask:
    blocks = _blocks(job, spec, role)
    if point < 0:
        return Ask(way="state", button=label, blocks=blocks, also=events, minutes="1")
    figures = job.figures(spec.id)
    stands = stands_for(BUFFERS, figures.plan[point])
    values = columns(job, BUFFERS, spec, figures)
    return read(
        spec, figures, values, stands, EARLY, button=label, blocks=blocks, also=events, minutes="1"
    )


def _blocks(job: Reads, spec: BufferRun, role: str) -> tuple[Block, ...]:
    ledger = job.ledger
    chosen = ledger.kit.get(role)
    own = bottle(chosen.asset) if chosen is not None else None
    value = value_of(ledger, spec, role)
    return (
        Block(
            kind="rows",
            rows=(
                Row(
                    label="Bottle",
                    value=f"{chosen.asset.asset}, {own.set} {own.nominal}, lot {own.lot}"
                    if chosen is not None and own is not None
                    else "none chosen",
                ),
                Row(
                    label="Worth",
                    value=f"pH {value} at {show(temperature_c(ledger, spec), 1)} °C",
                    strong=True,
                ),
                Row(label="Pour", value=f"2 × {POURED_ML / 2:.0f} mL"),
            ),
        ),
        Block(kind="text", text=POUR),
    )


def heading(job: Reads, step: Step) -> tuple[str, str] | None:
    """Return kicker and title where a buffer is due; none elsewhere."""
    spec = run_of(job, step)
    role = next_role(job, spec) if spec is not None else ""
    if spec is None or not role:
        return None
    roles = roles_of(job.ledger, job.settings, spec)
    name = table_for(job.ledger, role).nominal
    kicker = f"{dict(STAGES)[step.stage]} · {spec.title} · {roles.index(role) + 1} of {len(roles)}"
    if roles.index(role) in job.ledger.readings[spec.id]:
        return kicker, f"Let the analyzer take {name}"
    if not in_it(job, spec, role):
        return kicker, f"Into pH {name}: rinse, then the second portion"
    return kicker, f"Wait until millivolts and pH are steady in {name}"


def blocks(job: Reads) -> tuple[Block, ...]:
    """Return slope and offset of every run beside the last ones; none before two buffers."""
    own = analyzer(job.ledger.facts)
    cells: list[tuple[str, ...]] = []
    if own.slope_percent is not None and own.offset_mv is not None:
        cells.append(
            (
                f"Last, {own.calibrated_on}" if own.calibrated_on else "Last",
                f"{show(own.slope_percent, 1)} %",
                f"{show(own.offset_mv, 1, sign=True)} mV",
                "",
            )
        )
    seen = [e for e in electrodes(job) if e.line is not None]
    for e in seen:
        assert e.line is not None
        both = f" / {show(e.second.percent, 1)}" if e.second is not None else ""
        at = e.process
        cells.append(
            (
                e.title,
                f"{show(e.line.percent, 1)}{both} %",
                f"{show(e.line.offset_mv, 1, sign=True)} mV",
                f"{show(at.error, 2, sign=True)} ±{show(at.u, 2)}"
                if at is not None and e.run != "calibrated"
                else "",
            )
        )
    if not seen:
        return ()
    return (
        Block(
            kind="table",
            title="The electrode",
            columns=("Run", "Slope", "Offset", f"At pH {own.process_ph}"),
            cells=tuple(cells),
            marks=tuple("none" for _ in cells),
        ),
    )

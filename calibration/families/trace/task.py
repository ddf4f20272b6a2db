"""What a step of a trace oxygen analyzer asks for now: fill and vent, read, set."""

from __future__ import annotations

from datetime import timedelta

from calibration.engine.job.reads import Reads
from calibration.engine.method.method import STAGES, Step
from calibration.engine.method.run_kind import stands_for
from calibration.engine.view.asks import Ask, Push, Sent, Value
from calibration.engine.view.blocks import Block, Row
from calibration.families.shared.display import columns, read
from calibration.families.trace.bleeding import noted, sides, span_ppm
from calibration.families.trace.coming_down import excess_ppm
from calibration.families.trace.facts import analyzer
from calibration.families.trace.kinds import IN_SPAN_GAS
from calibration.families.trace.ledger import part_of
from calibration.families.trace.life import of_new
from calibration.families.trace.shape import bleed_words
from calibration.families.trace.values import process, run_of
from calibration.families.trace.words import FITTED, Bleeding, SettingSpan, SpanRun
from calibration.kernel.rounding import show, trimmed

EARLY = ("It will not get steadier", "The hold-off runs out")
HOW = {
    "high": "Fill to cylinder pressure, crack the nut at the cylinder, retighten at once.",
    "low": "Fill it, vent at the half-tight fitting of the span port; tighten at the last vent.",
}
#: When a sensor that comes down is looked at. [min]
LOOKS_MIN = (2, 5, 10, 30, 60)


def task(job: Reads) -> Ask | None:
    """Return what the present step asks for; none where the engine knows."""
    step = job.current
    if isinstance(step, Bleeding):
        return _bleed(job, step)
    if isinstance(step, SettingSpan):
        return _set(job, step)
    spec = run_of(job, step)
    return _read(job, spec) if spec is not None else None


def _bleed(job: Reads, step: Bleeding) -> Ask | None:
    side = next((s for s in sides(job) if s.done < s.wanted), None)
    if side is None:
        return None
    data = {"step": step.id, "side": side.side, "bar": format(side.bar, "f")}
    rest = side.wanted - side.done
    every = Sent(kind="bled", data={**data, "times": str(rest)})
    label = f"{side.side.capitalize()} side filled and vented"
    return Ask(
        way="state",
        button=f"{label}: {side.done + 1} of {side.wanted}",
        blocks=(
            Block(kind="rows", rows=bleed_words(job)),
            Block(kind="text", text=HOW[side.side]),
        ),
        also=(Sent(kind="bled", data={**data, "times": "1"}),),
        others=(Push(label=f"All {rest} are done", events=(every,)),) if rest > 1 else (),
        minutes="1",
    )


def _set(job: Reads, step: SettingSpan) -> Ask:
    value = span_ppm(job.ledger)
    target = trimmed(value) if value is not None else ""
    seconds = trimmed(analyzer(job.ledger.facts).set_within_s)
    return Ask(
        way="set",
        button=f"Set the span to {target} ppm",
        typed="Span is set",
        sends=Sent(kind="span_set", data={"step": step.id}),
        blocks=(
            Block(
                kind="rows",
                rows=(
                    Row(label="Set to", value=f"{target} ppm", strong=True),
                    Row(label="Confirm within", value=f"{seconds} s"),
                ),
            ),
            Block(
                kind="text", text="Missed the moment: nothing is set, and it is no fault. Again."
            ),
        ),
        values=(
            Value(id="before", label="Before, if read", unit="ppm", required=False),
            Value(id="after", label="After it is set", unit="ppm", required=True),
        ),
        minutes="1",
        end="span",
        target=target,
    )


def _read(job: Reads, spec: SpanRun) -> Ask | None:
    figures = job.figures(spec.id)
    if figures.current < 0:
        return None
    blocks = _coming_down(job) if spec.settles else _in_gas(job)
    return read(
        spec,
        figures,
        columns(job, IN_SPAN_GAS, spec, figures),
        stands_for(IN_SPAN_GAS, figures.plan[figures.current]),
        EARLY,
        button="Take reading",
        blocks=blocks,
        minutes=trimmed(job.settings.number("span_minutes")),
    )


def _in_gas(job: Reads) -> tuple[Block, ...]:
    value = span_ppm(job.ledger)
    rows = [
        Row(label="Gas", value=f"{trimmed(value)} ppm" if value is not None else "", strong=True),
        Row(label="Flow", value=f"{trimmed(process(job.ledger).flow)} L/min, as in the process"),
    ]
    return (Block(kind="rows", rows=tuple(rows)),)


def _coming_down(job: Reads) -> tuple[Block, ...]:
    """Return what a good new sensor shows while it comes down, by how long it was in air."""
    air = noted(job.ledger, FITTED, "air_seconds")
    down = Block(
        kind="text", text="It can only reach what the process is. Read it when it is down."
    )
    if air is None:
        # Nobody said how long it was in air: what it should show by now is not known.
        return (down,)
    seconds, floor = float(air), process(job.ledger).shown
    cells = tuple(
        (f"{m} min", f"{show(float(floor) + excess_ppm(60.0 * m, seconds), 1)} ppm")
        for m in LOOKS_MIN
    )
    return (
        Block(
            kind="table",
            title="Expected",
            columns=("After", "Shows about"),
            cells=cells,
            marks=tuple("none" for _ in cells),
        ),
        down,
    )


def heading(job: Reads, step: Step) -> tuple[str, str] | None:
    """Return kicker and title where it is bled, read or set; none elsewhere."""
    stage = dict(STAGES)[step.stage]
    if isinstance(step, Bleeding):
        side = next((s for s in sides(job) if s.done < s.wanted), None)
        if side is None:
            return None
        return f"{stage} · {step.title}", f"Fill and vent the {side.side} side"
    if isinstance(step, SettingSpan):
        value = span_ppm(job.ledger)
        return stage, f"Set the span: {trimmed(value) if value is not None else ''} ppm"
    spec = run_of(job, step)
    if spec is None:
        return None
    kicker = stage if step.title == stage else f"{stage} · {step.title}"
    return (
        kicker,
        "Wait until it is down" if spec.settles else "Wait until it is steady in span gas",
    )


def blocks(job: Reads) -> tuple[Block, ...]:
    """Return how long the hold-off still lasts, what is left in the regulator, and the sensor."""
    return (*_hold(job), *_regulator(job), *_sensor(job))


def _hold(job: Reads) -> tuple[Block, ...]:
    """Return the time until the device ends the hold-off by itself; none while it is not on."""
    on = next((e for s, e in job.ledger.on_now() if s.on_kind == "bypass"), None)
    if on is None:
        return ()
    own = analyzer(job.ledger.facts)
    ends = on.when + timedelta(minutes=float(own.holds_minutes))
    needed = trimmed(job.settings.number("span_minutes") * 2)
    return (
        Block(
            kind="timer",
            title=f"until the device ends the hold-off by itself; about {needed} min are needed",
            text="the hold-off has ended by itself: hold it off again",
            ends_at=ends.isoformat(),
        ),
    )


def _regulator(job: Reads) -> tuple[Block, ...]:
    if not part_of(job.ledger).bled:
        return ()
    rows = tuple(r for r in bleed_words(job) if r.value)
    return (Block(kind="rows", title="Regulator", rows=rows),)


def _sensor(job: Reads) -> tuple[Block, ...]:
    now = of_new(job, job.ledger.method.found.id)
    base = analyzer(job.ledger.facts)
    if now is None or base.response_percent is None:
        return ()
    last = f"last {trimmed(base.response_percent)} %, {base.responded_on}".rstrip(", ")
    row = Row(label="Of a new one", value=f"{show(now, 0)} % ({last})")
    return (Block(kind="rows", title="Sensor", rows=(row,)),)

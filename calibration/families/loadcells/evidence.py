"""What a job says of a vessel on load cells."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal

from calibration.decisions.tolerance import limit_at
from calibration.engine.job.ledger import Ledger
from calibration.engine.job.reads import Reads
from calibration.engine.judging.evaluation import RunFigures
from calibration.families.loadcells.facts import STANDARD_GRAVITY, vessel, weights
from calibration.families.loadcells.naming import Loaded
from calibration.families.shared.differential import told
from calibration.families.shared.weights import hung, uncertainty_kg, whole_kg
from calibration.kernel.numbers import parse_decimal, to_float
from calibration.measuring.weighing import MinimumIn, MinimumOut, minimum_weight

#: The runs over the corners, as found and as left.
CORNERS = ("corners", "corners_left")
#: What is hung where no set is chosen yet, as a share of the capacity.
SHARE = Decimal("0.1")


def top_load(ledger: Ledger) -> Decimal:
    """Return the load of all weights that the vessel may bear. [kg]"""
    own, most = weights(ledger), ledger.facts.input_upper
    found = hung(own, min(most, whole_kg(own))) if own is not None else None
    return found.out.conventional_kg if found is not None else most * SHARE


@dataclass(frozen=True)
class Enough:
    """Whether the weights are heavy enough."""

    least: MinimumOut
    load_kg: Decimal
    #: expanded uncertainty that they leave at capacity, and what is accepted there [kg]
    u_at_capacity: float
    accepted: float
    #: share of a cell's rated load, full
    used_percent: Decimal

    @property
    def ok(self) -> bool:
        """Tell whether electronics and tolerance take them."""
        return bool(self.least.enough) and self.u_at_capacity <= self.accepted


def enough(job: Reads) -> Enough:
    """Return whether the weights are heavy enough, for the electronics and for the tolerance.

    References
    ----------
    :func:`calibration.measuring.weighing.minimum_weight`. An uncertainty at a weight grows in
    proportion to the load: U(capacity) = √(U² + step²/3) × capacity / weight.
    """
    ledger = job.ledger
    own, load, facts = weights(ledger), top_load(ledger), vessel(ledger.facts)
    least = minimum_weight(
        MinimumIn(
            cells=facts.cells,
            rated_kg=facts.rated_kg,
            share_percent=facts.least_percent,
            weight_kg=load,
        )
    )
    u = to_float(uncertainty_kg(own, load)) if own is not None else 0.0
    capacity = ledger.facts.input_upper
    grown = math.hypot(u, to_float(facts.step_kg) / math.sqrt(3)) * to_float(capacity / load)
    limit = limit_at(ledger.facts.transfer, ledger.facts.tolerance, capacity)
    full = 100 * (facts.dead_load_kg + capacity) / (facts.cells * facts.rated_kg)
    return Enough(least, load, grown, to_float(limit), full)


def signal_percent(job: Reads, figures: RunFigures) -> float | None:
    """Return by how much the signal grew more than the data of the cells say; none unread. [%]"""
    signals = {
        i: parse_decimal(str(figures.taken[i].content.own.values["mvv"]), "data.mvv")
        for i in figures.order
        if figures.taken[i].content.own.values.get("mvv") not in (None, "")
    }
    full = max(figures.order, key=lambda i: figures.plan[i].nominal)
    if 0 in signals and full in signals:
        grown = to_float(signals[full] - signals[0])
    elif "mvv_grown" in told(job.ledger):
        grown = told(job.ledger)["mvv_grown"]
    else:
        return None
    facts, load = vessel(job.ledger.facts), figures.taken[full].content.applied
    pull = facts.gravity / STANDARD_GRAVITY
    expected = facts.sensitivity_mv_per_v * pull * load / (facts.cells * facts.rated_kg)
    return 100 * (grown / to_float(expected) - 1)


def corners_of(figures: RunFigures) -> tuple[float, ...]:
    """Return what each corner shows of the load that stood there, as a share."""
    contents = [figures.taken[i].content for i in figures.order]
    return tuple(to_float(c.reading / c.applied) for c in contents)


def net_corners(job: Reads, figures: RunFigures) -> tuple[float, ...]:
    """Return what each corner shows of the load over it, its zero taken off, as a share."""
    empty = job.ledger.readings[job.ledger.method.found.id].get(0)
    zero = empty.content.reading if empty is not None and not empty.content.applied else Decimal(0)
    contents = [figures.taken[i].content for i in figures.order]
    return tuple(to_float((c.reading - zero) / c.applied) for c in contents)


def loaded(job: Reads, figures: RunFigures) -> Loaded:
    """Return what a complete run of loads says, with the corners as found where they were read."""
    shown = [to_float(figures.taken[i].content.reading) for i in figures.order]
    loads = [to_float(figures.taken[i].content.applied) for i in figures.order]
    full = max(range(len(loads)), key=lambda n: loads[n])
    facts, span = job.ledger.facts, to_float(figures.facts.transfer.input_span)
    limits = [
        to_float(limit_at(figures.facts.transfer, figures.facts.tolerance, p.nominal))
        for p in (figures.plan[figures.order[0]], figures.plan[figures.order[full]])
    ]
    whole = len(figures.plan) == 6
    corners = job.figures(CORNERS[0])
    u = max(b.expanded_uncertainty for b in figures.budgets) * span / 100
    seen = corners_of(corners) if corners.complete and corners.order else ()
    stood = to_float(corners.plan[0].nominal) if seen else 1.0
    return Loaded(
        capacity=span,
        load=loads[full],
        limit=limits[1],
        zero_limit=limits[0],
        u=u,
        zero=shown[0],
        span=shown[full],
        half_up=shown[1] if whole else None,
        half_down=shown[4] if whole else None,
        rested=shown[3] if whole else None,
        back=shown[-1] if loads[-1] == 0 and len(loads) > 2 else None,
        signal_percent=signal_percent(job, figures),
        corners=tuple(c - shown[0] / stood for c in seen),
        corner_percent=to_float(vessel(facts).corner_percent),
        apart=told(job.ledger),
    )

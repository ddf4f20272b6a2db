"""Weights in the kit: a set is a set. What hangs at a point, and how well it is known."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from calibration.decisions.uncertainty import Contribution
from calibration.engine.job.facts import AssetFacts, InstrumentFacts
from calibration.engine.job.reads import Reads
from calibration.engine.method.family import AssetKind
from calibration.engine.method.method import KitRole
from calibration.engine.view.blocks import Row
from calibration.kernel.codec import about, read
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import to_float
from calibration.kernel.rounding import show, trimmed
from calibration.measuring.weights import (
    BY_CONVENTION,
    Piece,
    SumIn,
    SumOut,
    WeightClass,
    weights_sum,
)

#: What a set of weights measures, and its role in a job.
WEIGHTS, ROLE = "test_weights", "weights"
#: The air differs from the convention by no more than a tenth. [kg/m³]
AIR_WITHIN = 0.12


@dataclass(frozen=True, kw_only=True)
class WeightSet:
    """Weights that are kept, and certified, together."""

    oiml_class: WeightClass = about("class", default="M1")
    density: Decimal = about("their density", unit="kg/m³", default=Decimal(7850))
    pieces: tuple[Piece, ...] = about("weights, by size")


@dataclass(frozen=True)
class Hung:
    """Weights of a set that hang at a point."""

    pieces: tuple[Piece, ...]
    out: SumOut

    @property
    def words(self) -> str:
        """Return them in words: 2 × 20 kg + 10 kg."""
        return " + ".join(
            (f"{p.count} × " if p.count > 1 else "") + f"{trimmed(p.nominal_kg)} kg"
            for p in self.pieces
        )


def weight_set(asset: AssetFacts) -> WeightSet:
    """Return what is in a set."""
    return read(WeightSet, asset.own, "asset")


def whole_kg(asset: AssetFacts) -> Decimal:
    """Return all weights of a set together, nominal. [kg]"""
    return sum((p.count * p.nominal_kg for p in weight_set(asset).pieces), Decimal(0))


def hung(asset: AssetFacts, target_kg: Decimal) -> Hung | None:
    """Return the weights of a set that come nearest to a load from below; none for no load.

    The largest come first, as people hang them.
    """
    own, left, found = weight_set(asset), target_kg, []
    for piece in sorted(own.pieces, key=lambda p: -p.nominal_kg):
        count = min(piece.count, int(left / piece.nominal_kg))
        if count:
            given = {**vars(piece), "count": count, "certificate": asset.certificate}
            found.append(Piece(**given))
            left -= count * piece.nominal_kg
    if not found:
        return None
    asked = SumIn(pieces=tuple(found), oiml_class=own.oiml_class, density=own.density)
    return Hung(tuple(found), weights_sum(asked))


def uncertainty_kg(asset: AssetFacts, load_kg: Decimal) -> Decimal:
    """Return how well a load is known that hangs from a set. [kg, k = 2]"""
    # A load in its conventional value may lie a little below its nominal one.
    found = hung(asset, load_kg * Decimal("1.0005"))
    return found.out.uncertainty_kg if found is not None else Decimal(0)


def parts_of(asset: AssetFacts, load_kg: Decimal, span_kg: float) -> tuple[Contribution, ...]:
    """Return what weights add to the uncertainty of an error: themselves, and the air. [% of span]

    Weights of a density other than that of the convention move with the density of the air.
    """
    if load_kg <= 0:
        return ()
    own = weight_set(asset)
    air = AIR_WITHIN * abs(1 / to_float(own.density) - 1 / to_float(BY_CONVENTION))
    return (
        Contribution(
            name=f"Weights of {asset.asset}",
            value=100 * to_float(uncertainty_kg(asset, load_kg)) / span_kg,
            kind="expanded",
        ),
        Contribution(
            name="Air around the weights",
            value=100 * to_float(load_kg) * air / span_kg,
            kind="limit",
        ),
    )


def in_words(asset: AssetFacts) -> str:
    """Return a set in words: its weights, and its class."""
    own = weight_set(asset)
    said = ", ".join(f"{p.count} × {trimmed(p.nominal_kg)} kg" for p in own.pieces)
    return f"{said}, class {own.oiml_class}"


def _contributions(
    facts: InstrumentFacts, asset: AssetFacts, applied: Decimal
) -> tuple[Contribution, ...]:
    return parts_of(asset, applied, to_float(abs(facts.transfer.input_span)))


def _lines(asset: AssetFacts) -> tuple[Row, ...]:
    return (Row(label="Weights", value=in_words(asset)),)


def _words(job: Reads, role: KitRole, asset: AssetFacts) -> tuple[str, str, str]:
    load = whole_kg(asset)
    u = 100 * uncertainty_kg(asset, load) / load if load else Decimal(0)
    return in_words(asset), f"±{show(u, 4)} %", ""


def empty_set(asset: AssetFacts) -> None:
    """Refuse a set without a weight.

    Raises
    ------
    InputError
        ``weights.none``.
    """
    if not whole_kg(asset):
        raise InputError(
            "weights.none",
            "data.asset",
            f"{asset.asset} holds no weight.",
            "Choose a set with weights, or enter them in the kit.",
        )


def whole(own: WeightSet) -> None:
    """Refuse a set of which nothing can be counted: odd pieces without an uncertainty of their own.

    Raises
    ------
    InputError
        those of :func:`calibration.measuring.weights.weights_sum`.
    """
    weights_sum(SumIn(pieces=own.pieces, oiml_class=own.oiml_class, density=own.density))


def _admit(job: Reads, role: KitRole, asset: AssetFacts, reason: str) -> None:
    empty_set(asset)
    whole(weight_set(asset))


#: Sets of weights, for every family that hangs them.
KIND = AssetKind(
    title="Test weights",
    measures="kg",
    facts=WeightSet,
    asked=("oiml_class", "density"),
    check=whole,
    admit=_admit,
    words=_words,
    contributions=_contributions,
    lines=_lines,
)

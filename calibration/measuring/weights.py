"""Weights hung together: what they are worth, and how well that is known."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from calibration.kernel.checks import between, not_negative, positive, some
from calibration.kernel.codec import about
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import to_float
from calibration.kernel.pictures import Bar, Bars, Picture
from calibration.kernel.registry import operation

WeightClass = Literal["E2", "F1", "F2", "M1", "M2", "M3"]
#: Maximum permissible errors of weights from 1 kg on. [mg] OIML R 111-1:2004, table 1.
SIZES_KG = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000)
LIMITS_MG: dict[str, dict[int, Decimal]] = {
    name: dict(zip(SIZES_KG, map(Decimal, row.split()), strict=True))
    for name, row in (
        ("E2", "1.6 3.0 8.0 16 30 80 160 300 800 1600"),
        ("F1", "5 10 25 50 100 250 500 1000 2500 5000"),
        ("F2", "16 30 80 160 300 800 1600 3000 8000 16000"),
        ("M1", "50 100 250 500 1000 2500 5000 10000 25000 50000"),
        ("M2", "160 300 800 1600 3000 8000 16000 30000 80000 160000"),
        ("M3", "500 1000 2500 5000 10000 25000 50000 100000 250000 500000"),
    )
}
#: The convention of weights: their density, in air of so much. [kg/m³] OIML D 28:2004, 4.
BY_CONVENTION, AIR = Decimal(8000), Decimal("1.2")


@dataclass(frozen=True, kw_only=True)
class Piece:
    """Weights of one size."""

    nominal_kg: Decimal = about("nominal", unit="kg")
    count: int = about("how many", default=1)
    conventional_kg: Decimal | None = about(
        "conventional value of one, by its certificate", unit="kg", default=None
    )
    uncertainty_kg: Decimal | None = about(
        "expanded uncertainty of one; else its class says it", unit="kg", default=None
    )
    certificate: str = about("certificate", default="")


@dataclass(frozen=True, kw_only=True)
class SumIn:
    """What hangs, or stands, together."""

    pieces: tuple[Piece, ...] = about("weights")
    oiml_class: WeightClass = about("class", default="M1")
    density: Decimal = about("their density", unit="kg/m³", default=Decimal(7850))
    air: Decimal = about("density of the air", unit="kg/m³", default=AIR)


@dataclass(frozen=True, kw_only=True)
class SumOut:
    """What they are worth together."""

    nominal_kg: Decimal = about("nominal", unit="kg", decimals=3)
    conventional_kg: Decimal = about("conventional value", unit="kg", decimals=5)
    uncertainty_kg: Decimal = about("expanded uncertainty", unit="kg", decimals=5)
    uncertainty_percent: Decimal = about("of the load", unit="%", decimals=4)
    limit_kg: Decimal | None = about("errors that the class permits", unit="kg", decimals=5)
    buoyancy_kg: Decimal = about("put right for the air", unit="kg", decimals=6)


def limit_kg(oiml_class: WeightClass, nominal_kg: Decimal) -> Decimal | None:
    """Return the error that a class permits of one weight; none for a size it does not have. [kg]

    References
    ----------
    OIML R 111-1:2004, table 1.

    >>> limit_kg("M1", Decimal(20))
    Decimal('0.001')
    """
    row = LIMITS_MG[oiml_class]
    found = row.get(int(nominal_kg)) if nominal_kg == int(nominal_kg) else None
    return found / 1_000_000 if found is not None else None


def _picture(i: SumIn, o: SumOut) -> Picture:
    return Bars(
        alt=f"Weights of {o.nominal_kg} kg together.",
        bars=tuple(
            Bar(
                label=f"{p.count} × {p.nominal_kg:g} kg",
                value=to_float(p.count * p.nominal_kg),
                text=f"{p.count * p.nominal_kg:g} kg",
            )
            for p in i.pieces
        ),
    )


@operation(
    "weights.sum",
    title="Weights together",
    family="Weighing",
    formula="value = Σ count × conventional value;  U = Σ U of one certificate (added), then the "
    "root of the sum of squares over certificates;  "
    "air: −value × (air − 1.2) × (1/density − 1/8000)",
    source="classes: OIML R 111-1:2004, table 1; weights of one certificate: EURAMET cg-18 v4.0, "
    "7.1.2; air: OIML D 28:2004",
    example={
        "pieces": [{"nominal_kg": "20", "count": 4}, {"nominal_kg": "10", "count": 2}],
        "oiml_class": "M1",
    },
    words="test weights mass set class conventional buoyancy load",
    cautions=("Weights can crush: lift with two or with a hoist, by the site's procedure.",),
    worked=lambda i, o: [
        f"{o.conventional_kg:f} kg ± {o.uncertainty_kg:f} kg, {o.uncertainty_percent:.4f} %"
    ],
    picture=_picture,
)
def weights_sum(request: SumIn) -> SumOut:
    """Give value and expanded uncertainty of weights that hang together.

    Raises
    ------
    InputError
        ``pieces.too_few``, ``nominal_kg.not_positive``, ``count.out_of_range``,
        ``conventional_kg.not_positive``, ``uncertainty_kg.negative``, ``uncertainty_kg.missing``,
        ``density.out_of_range``, ``air.out_of_range``.

    References
    ----------
    EURAMET cg-18 v4.0, 7.1.2: what weights of one certificate share moves all of them alike, so
    their uncertainties are added and not squared. Where no uncertainty is given it is a third of
    what the class permits: OIML R 111-1:2004, 5.2.
    """
    some(request.pieces, "pieces", "weights")
    between(request.density, 1000, 22_000, "density", "density", "kg/m³")
    between(request.air, Decimal("0.7"), Decimal("1.5"), "air", "density of the air", "kg/m³")
    nominal = value = Decimal(0)
    limit: Decimal | None = Decimal(0)
    shared: dict[str, Decimal] = {}
    for n, piece in enumerate(request.pieces):
        where = f"pieces.{n}"
        _refuse(piece, where)
        permitted = limit_kg(request.oiml_class, piece.nominal_kg)
        one = piece.uncertainty_kg if piece.uncertainty_kg is not None else _third(permitted, where)
        nominal += piece.count * piece.nominal_kg
        value += piece.count * (piece.conventional_kg or piece.nominal_kg)
        shared[piece.certificate] = shared.get(piece.certificate, Decimal(0)) + piece.count * one
        limit = limit + piece.count * permitted if limit is not None and permitted else None
    u = sum((s * s for s in shared.values()), Decimal(0)).sqrt()
    air = value * (request.air - AIR) * (1 / request.density - 1 / BY_CONVENTION)
    return SumOut(
        nominal_kg=nominal,
        conventional_kg=value,
        uncertainty_kg=u,
        uncertainty_percent=100 * u / value,
        limit_kg=limit,
        buoyancy_kg=-air,
    )


def _refuse(piece: Piece, where: str) -> None:
    """Refuse what cannot be."""
    positive(piece.nominal_kg, f"{where}.nominal_kg", "nominal", "kg")
    between(piece.count, 1, 1000, f"{where}.count", "number")
    if piece.conventional_kg is not None:
        positive(piece.conventional_kg, f"{where}.conventional_kg", "conventional value", "kg")
    if piece.uncertainty_kg is not None:
        not_negative(piece.uncertainty_kg, f"{where}.uncertainty_kg", "uncertainty")


def _third(permitted: Decimal | None, where: str) -> Decimal:
    if permitted is None:
        raise InputError(
            "uncertainty_kg.missing",
            f"{where}.uncertainty_kg",
            "The class has no weight of that size, so it says nothing of its uncertainty.",
            "Give the expanded uncertainty of its certificate.",
        )
    return permitted / 3

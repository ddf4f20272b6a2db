"""Cylinders: what is in them, what is left, what they serve, and what they were used with."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from django.db.models import QuerySet, Sum

from calibration.decisions.reference import Spec
from calibration.engine.job.events import AssetFacts
from calibration.engine.job.job import Job as CoreJob
from calibration.engine.job.kit import refuse_unusable
from calibration.engine.method.family import Drawn
from calibration.families.gas.facts import Holds, channels, contents
from calibration.families.gas.gases import fit_of, needs_l
from calibration.families.gas.words import GasRole
from calibration.gas import cylinder as core
from calibration.gas.amounts import ATMOSPHERE
from calibration.gas.concentration import ConvertIn, convert_gas
from calibration.gas.table import LelSet
from calibration.kernel.codec import decode, encode
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import from_float, parse_decimal, to_float
from calibration.kernel.own import Own
from calibration.kernel.rounding import fixed, show
from calibration.simulate.commands import Share
from verifyloop.errors import NotFound
from verifyloop.kit.models import Cylinder, GasHold, GasUse
from verifyloop.kit.selectors import Option
from verifyloop.plant.facts import site_choice


def cylinder_by_asset(asset: str) -> Cylinder | None:
    """Return one cylinder; none where the number is another reference's."""
    return Cylinder.objects.filter(asset=asset).first()


@dataclass(frozen=True)
class Amounts:
    """What was drawn from each cylinder and what is set aside of it, by its key. [L]"""

    drawn: Mapping[int, float]
    aside: Mapping[int, float]


def amounts(job: str = "") -> Amounts:
    """Return what was drawn and is set aside for other jobs, for the whole shelf at once."""

    def sums(rows: QuerySet[Any]) -> dict[int, float]:
        found = rows.order_by().values_list("cylinder").annotate(sum=Sum("litres"))
        return {key: float(total or 0.0) for key, total in found}

    return Amounts(sums(GasUse.objects.all()), sums(GasHold.objects.exclude(job=job)))


def holds(cylinder: Cylinder, job: str = "", known: Amounts | None = None) -> core.Cylinder:
    """Return contents and what is left now, as a job sees it."""
    known = known or amounts(job)
    drawn, aside = known.drawn.get(cylinder.pk, 0.0), known.aside.get(cylinder.pk, 0.0)
    water = parse_decimal(cylinder.water_l, "water_l")
    pressure = parse_decimal(cylinder.pressure_bar, "pressure_bar")
    pressure -= from_float(drawn * ATMOSPHERE) / water
    return decode(
        core.Cylinder,
        {
            "parts": cylinder.parts,
            "balance": cylinder.balance,
            "uncertainty_percent": cylinder.uncertainty_percent,
            "lot": cylinder.lot,
            "water_l": cylinder.water_l,
            "pressure_bar": str(fixed(max(Decimal(0), pressure), 2)),
            "minimum_bar": cylinder.minimum_bar,
            "set_aside_l": str(fixed(aside, 2)),
            "flow_l_per_min": cylinder.flow_l_per_min or None,
            "demand": cylinder.demand,
            "humidifier": cylinder.humidifier,
        },
        "gas",
    )


def cylinder_facts(
    cylinder: Cylinder, job: str = "", shelf: bool = True, known: Amounts | None = None
) -> AssetFacts:
    """Return a cylinder as it is now, for the record of a job."""
    others = Cylinder.objects.exclude(pk=cylinder.pk).filter(withdrawn="") if shelf else ()
    return AssetFacts(
        asset=cylinder.asset,
        description=cylinder.description,
        serial=cylinder.lot,
        quantity="gas",
        unit="gas",
        spec=Spec(
            percent_of_reading=parse_decimal(cylinder.uncertainty_percent, "uncertainty_percent"),
            full_scale=Decimal(100),
        ),
        certificate=cylinder.certificate,
        issued_by=cylinder.issued_by,
        calibrated_on=str(cylinder.filled_on),
        due_on=str(cylinder.expires_on),
        withdrawn=cylinder.withdrawn,
        own=Own(
            encode(
                Holds(
                    gas=holds(cylinder, job, known),
                    shelf=tuple(_on_shelf(c) for c in others if c.parts),
                )
            )
        ),
    )


def _on_shelf(cylinder: Cylinder) -> core.OnShelf:
    return decode(
        core.OnShelf,
        {
            "asset": cylinder.asset,
            "holds": {
                "parts": cylinder.parts,
                "balance": cylinder.balance,
                "water_l": cylinder.water_l,
                "pressure_bar": cylinder.pressure_bar,
            },
        },
    )


def gas_options(
    job: CoreJob, role_id: str, number: str, today: date, count: int = 1
) -> list[Option]:
    """Return the cylinders offered for a role, the best usable first.

    ``count``: how many detectors the round has that this job begins.
    """
    role = next((r for s in job.ledger.method.steps for r in job.roles(s) if r.id == role_id), None)
    if role is None:
        return []
    found = []
    needed = show(needs_l(job, role.id), 1)
    shelf, known = list(Cylinder.objects.order_by("asset")), amounts(number)
    for cylinder in shelf:
        asset = cylinder_facts(cylinder, number, shelf=False, known=known)
        inside = contents(asset)
        assert inside is not None and isinstance(role, GasRole)
        fit = fit_of(job, role, asset)
        usable, remark = fit.usable, fit.remark
        whole = needs_l(job, role.id) * count
        short = count > 1 and usable and whole > inside.left_l
        if short:
            remark = (
                f"Enough for this one, not for the round: {count} detectors take up to "
                f"{show(whole, 1)} L, {show(inside.left_l, 1)} L are left. {remark}"
            ).strip()
        try:
            refuse_unusable(asset, today)
        except InputError as refusal:
            usable, remark = False, refusal.message
        other = inside.parts if role.purpose != "span" else fit.value is None
        if not usable and other:
            continue
        found.append(
            Option(
                asset=cylinder.asset,
                description=fit.shown,
                due_on=str(cylinder.expires_on),
                ratio=f"Needs {needed} L, {show(inside.left_l, 0)} L left",
                usable=usable,
                adequate=fit.ok and not short,
                remark=remark,
            )
        )
    # One bottle for all gases of an instrument saves changing it on the way.
    gases = {c.gas for c in channels(job.ledger.facts)}
    covers = {c.asset: len(gases & {p["gas"] for p in c.parts}) for c in shelf}
    found.sort(key=lambda o: (not o.usable, not o.adequate, -covers[o.asset], o.asset))
    return found


def bookings(
    job: str, tag: str, drawn: Sequence[Drawn], aside: Mapping[str, float]
) -> list[GasUse | GasHold]:
    """Return the rows that say what a job has drawn and what is set aside for it; none is saved."""
    names = {*(d.asset for d in drawn), *aside}
    cylinders = {c.asset: c for c in Cylinder.objects.filter(asset__in=names)} if names else {}
    uses = (
        GasUse(cylinder=cylinders[d.asset], job=job, tag=tag, at=d.at, litres=d.amount)
        for d in drawn
        if d.asset in cylinders
    )
    holds = (
        GasHold(cylinder=cylinders[asset], job=job, litres=litres)
        for asset, litres in aside.items()
        if asset in cylinders and litres > 0
    )
    return [*uses, *holds]


def truth_of(cylinder: Cylinder) -> tuple[list[dict[str, Any]], str]:
    """Return what the simulated train lets out: shares in % vol, and the balance."""
    if cylinder.truth:
        return cylinder.truth["mix"], cylinder.truth.get("balance", cylinder.balance)
    mix = []
    for part in decode(core.Cylinder, encode(holds(cylinder))).parts:
        own: LelSet = part.lel_set or "IEC"
        volume = convert_gas(
            ConvertIn(
                value=to_float(part.value),
                from_unit=core.UNIT[part.unit],
                to_unit="percent_volume",
                gas=part.gas,
                lel_set=own,
            )
        ).value
        mix.append(encode(Share(gas=part.gas, percent=volume)))
    return mix, cylinder.balance


def facts_by_asset(asset: str, job: str) -> AssetFacts | None:
    """Return a cylinder as a job sees it; none where the number is another reference's."""
    cylinder = cylinder_by_asset(asset)
    return cylinder_facts(cylinder, job) if cylinder is not None else None


def truth_by_asset(asset: str, job: str) -> dict[str, Any] | None:
    """Return what the simulated train lets out of a cylinder, and how much is in it. [L]"""
    cylinder = cylinder_by_asset(asset)
    if cylinder is None:
        return None
    mix, balance = truth_of(cylinder)
    water = parse_decimal(cylinder.water_l, "water_l")
    litres = holds(cylinder, job).pressure_bar * water / from_float(ATMOSPHERE)
    return {"mix": mix, "balance": balance, "litres": float(litres)}


def site_lel_set() -> LelSet:
    """Return the table of explosive limits that the site counts %LEL by."""
    return "NFPA" if site_choice("lel_set", "IEC") == "NFPA" else "IEC"


def needed_cylinder(asset: str) -> Cylinder:
    """Return one cylinder, or say that there is none."""
    found = cylinder_by_asset(asset)
    if found is None:
        raise NotFound("cylinder.unknown", f"There is no cylinder '{asset[:40]}'.", "Open Kit.")
    return found

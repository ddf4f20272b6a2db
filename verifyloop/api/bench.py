"""The data tables of the Bench: what is shipped with its source, and what the site adds."""

from __future__ import annotations

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from calibration.analyzers.ph.buffers import SHIPPED
from calibration.gas.table import GASES, SETS
from calibration.kernel.rounding import show
from calibration.kernel.units import UNITS
from verifyloop.accounts.permissions import can
from verifyloop.bench import services
from verifyloop.bench.selectors import newest_buffers

router = Router(tags=["bench"])


class BufferOut(Schema):
    """One buffer; ``by`` and ``at`` are empty for a shipped one."""

    set: str
    nominal: str
    temperatures_c: list[str]
    values: list[str]
    source: str
    by: str = ""
    at: str = ""


class GasOut(Schema):
    """One gas."""

    name: str
    molar_mass: str
    limits: list[str]


class UnitOut(Schema):
    """One unit in the base unit of its kind."""

    name: str
    family: str
    factor: str


class TablesOut(Schema):
    """All data tables."""

    may_edit: bool
    buffers: list[BufferOut]
    gases: list[GasOut]
    sets: list[str]
    units: list[UnitOut]


class BufferIn(Schema):
    """A buffer of the site, figures as typed."""

    set: str
    nominal: str
    temperatures_c: list[str]
    values: list[str]
    source: str


def _tables(request: HttpRequest) -> TablesOut:
    shipped = [
        BufferOut(
            set=b.set,
            nominal=b.nominal,
            temperatures_c=[f"{t:g}" for t in b.temperatures_c],
            values=[f"{v:.3f}" if b.set == "primary" else f"{v:.2f}" for v in b.values],
            source=b.source,
        )
        for b in SHIPPED
    ]
    own = [
        BufferOut(
            set=b.set,
            nominal=b.nominal,
            temperatures_c=[f"{t:g}" for t in b.temperatures_c],
            values=[f"{v:g}" for v in b.values],
            source=b.source,
            by=b.by,
            at=b.at.isoformat(),
        )
        for b in newest_buffers()
    ]
    return TablesOut(
        may_edit=can(request.user, "bench.tables"),  # type: ignore[arg-type]
        buffers=own + shipped,
        gases=[
            GasOut(
                name=name,
                molar_mass=show(g.molar_mass, 3),
                limits=["" if limit is None else f"{limit:g}" for limit in (g.iec, g.nfpa)],
            )
            for name, g in GASES.items()
        ],
        sets=list(SETS.values()),
        units=[
            UnitOut(name=name, family=u.family, factor=f"{u.factor:.9g}")
            for name, u in UNITS.items()
        ],
    )


@router.get("/tables", response=TablesOut, operation_id="getBenchTables")
def get_tables(request: HttpRequest) -> TablesOut:
    """Return the data tables with their sources."""
    return _tables(request)


@router.post("/buffers", response=TablesOut, operation_id="saveSiteBuffer")
def save_buffer(request: HttpRequest, body: BufferIn) -> TablesOut:
    """Add a buffer of the site, or a newer table of one."""
    services.save_buffer(
        actor=request.user,  # type: ignore[arg-type]
        sent=body.dict(),
        now=timezone.now(),
    )
    return _tables(request)

"""Reading instruments."""

from __future__ import annotations

from django.conf import settings
from django.db.models import QuerySet

from verifyloop.errors import NotFound
from verifyloop.plant.models import Instrument, Site


def instrument_by_tag(tag: str) -> Instrument:
    """Return one instrument."""
    found: Instrument | None = (
        Instrument.objects.select_related("area").prefetch_related("plans").filter(tag=tag).first()
    )
    if found is None:
        raise NotFound(
            "instrument.unknown", f"There is no instrument '{tag[:40]}'.", "Search by tag."
        )
    return found


def site_facts() -> dict[str, str]:
    """Return what a paper says of the laboratory; empty where the site has not said it."""
    site = site_now() or Site()
    names = ("name", "laboratory", "address", "customer")
    zone = site.time_zone or settings.TIME_ZONE
    return {**{name: getattr(site, name) for name in names}, "time_zone": zone}


def site_now() -> Site | None:
    """Return the site; none before it was made."""
    return Site.objects.order_by("pk").first()


def out_of_service() -> QuerySet[Instrument]:
    """Return the instruments that are not in service, by tag."""
    out = Instrument.objects.filter(out_of_service__isnull=False)
    found: QuerySet[Instrument] = out.only("tag", "out_of_service").order_by("tag")
    return found

"""What the site adds to the shipped tables."""

from __future__ import annotations

from calibration.analyzers.ph.buffers import BufferTable
from verifyloop.bench.models import SiteBuffer


def newest_buffers() -> list[SiteBuffer]:
    """Return the newest table of every buffer of the site."""
    newest = {(b.set, b.nominal): b for b in SiteBuffer.objects.order_by("at", "pk")}
    return sorted(newest.values(), key=lambda b: (b.set, b.nominal))


def site_buffers() -> tuple[BufferTable, ...]:
    """Return the site's buffers as the core takes them."""
    return tuple(
        BufferTable(
            set=b.set,
            nominal=b.nominal,
            temperatures_c=tuple(b.temperatures_c),
            values=tuple(b.values),
            source=b.source,
        )
        for b in newest_buffers()
    )

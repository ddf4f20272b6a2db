"""What is said of the site: name, laboratory, address, and how it counts."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from urllib.parse import quote, urlsplit

from calibration.kernel.errors import InputError
from calibration.kernel.units import PREFERRED, alternatives
from verifyloop import form_values
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import Conflict
from verifyloop.plant import zone
from verifyloop.plant.models import Site
from verifyloop.plant.selectors import site_now
from verifyloop.register.kept import version_of
from verifyloop.register.write_lock import writing


@dataclass(frozen=True, kw_only=True)
class SiteGiven:
    """What was typed of the site."""

    name: str
    laboratory: str = ""
    address: str = ""
    customer: str = ""
    work_orders: str = ""
    time_zone: str = "UTC"
    decimal_sign: str = "."
    units: dict[str, str] = field(default_factory=dict)


def units_of(quantity: str) -> tuple[str, ...]:
    """Return the units that may be preferred for a quantity."""
    return alternatives(PREFERRED[quantity]) or (PREFERRED[quantity],)


def checked(said: SiteGiven) -> dict[str, object]:
    """Return what was typed as it is stored.

    Raises
    ------
    InputError
        naming the field.
    """
    units = {}
    for quantity, unit in said.units.items():
        if quantity not in PREFERRED:
            raise InputError(
                "field.unknown", f"units.{quantity[:20]}", "No unit is asked for that.", "Reload."
            )
        units[quantity] = form_values.one_of(
            unit, f"units.{quantity}", "The unit", units_of(quantity)
        )
    return {
        "name": form_values.text(said.name, "name", "The name of the site", 120),
        "laboratory": form_values.text(
            said.laboratory, "laboratory", "The laboratory", 120, required=False
        ),
        "address": form_values.text(said.address, "address", "The address", 240, required=False),
        "customer": form_values.text(
            said.customer, "customer", "The customer", 120, required=False
        ),
        "work_orders": _order_address(said.work_orders),
        "time_zone": form_values.one_of(said.time_zone, "time_zone", "Time zone", zone.zones()),
        "decimal_sign": form_values.one_of(
            said.decimal_sign, "decimal_sign", "Decimal sign", (".", ",")
        ),
        "units": units,
    }


def _order_address(said: str) -> str:
    text = form_values.text(said, "work_orders", "The address", 200, required=False)
    if text and not _leads(text):
        raise InputError(
            "address.form",
            "work_orders",
            "That is no address of a work order.",
            "Write https:// with a host and a path, {number} where its number goes; no name or "
            "password of anybody in it.",
        )
    return text


def _leads(text: str) -> bool:
    """Tell whether an address leads to a host, the number behind it and nobody named in it."""
    try:
        parts = urlsplit(text)
        host, person = parts.hostname, parts.username or parts.password
    except ValueError:
        return False
    plain = not re.search(r"[\s\\\x00-\x1f]", text) and "@" not in parts.netloc
    once = text.count("{number}") == 1 and "{number}" not in parts.netloc
    return parts.scheme in ("https", "http") and bool(host) and not person and plain and once


def order_pattern() -> str:
    """Return the address of a work order as the site wrote it; empty where it has not."""
    site = site_now()
    return site.work_orders if site is not None else ""


def order_link(number: str, pattern: str) -> str:
    """Return the address of a work order; empty where the site has not said how."""
    return pattern.replace("{number}", quote(number, safe="")) if number and pattern else ""


@writing()
def change_site(*, actor: User, said: SiteGiven, version: str) -> Site:
    """Change what is said of the site.

    Raises
    ------
    Conflict
        when somebody else changed it since it was read.
    """
    require(actor, "site.change")
    site = site_now() or Site()
    if site.pk is not None and version_of(site) != version:
        raise Conflict(
            "version.old",
            "Somebody else changed the site meanwhile.",
            "Reload; what you typed is kept beside it.",
        )
    for name, value in checked(said).items():
        setattr(site, name, value)
    site.save()
    zone.forget()
    return site

"""Areas of the works, in the order in which a round walks."""

from __future__ import annotations

from collections.abc import Sequence

from calibration.kernel.errors import InputError
from verifyloop import form_values
from verifyloop.accounts.models import User
from verifyloop.accounts.permissions import require
from verifyloop.errors import Conflict, NotFound
from verifyloop.plant.models import Area
from verifyloop.register.write_lock import writing


def all_areas() -> list[Area]:
    """Return the areas in their order."""
    return list(Area.objects.order_by("order", "name"))


@writing()
def add_area(*, actor: User, name: str) -> Area:
    """Add an area at the end of the round."""
    require(actor, "plant.setup")
    return area_named(name)


def area_named(name: str) -> Area:
    """Enter an area at the end of the round.

    Raises
    ------
    InputError
        ``area.taken``.
    """
    said = form_values.text(name, "name", "The name of the area", 80)
    if Area.objects.filter(name__iexact=said).exists():
        raise InputError("area.taken", "name", f"'{said}' is there already.", "Areas are once.")
    last = Area.objects.order_by("-order").first()
    return Area.objects.create(name=said, order=last.order + 1 if last else 1)


@writing()
def order_areas(*, actor: User, names: Sequence[str], before: Sequence[str]) -> list[Area]:
    """Put the areas in another order; ``before`` is the order that was read.

    Raises
    ------
    Conflict
        when the areas are others than those that were read.
    """
    require(actor, "plant.setup")
    found = all_areas()
    if [a.name for a in found] != list(before) or sorted(names) != sorted(before):
        raise Conflict(
            "version.old", "Somebody else changed the areas meanwhile.", "Look again, then move."
        )
    by_name = {a.name: a for a in found}
    for place, name in enumerate(names, 1):
        area = by_name[name]
        if area.order != place:
            area.order = place
            area.save(update_fields=["order"])
    return all_areas()


@writing()
def rename_area(*, actor: User, name: str, to: str) -> Area:
    """Give an area another name; papers of before keep the one they were issued with."""
    require(actor, "plant.setup")
    area = Area.objects.filter(name=name).first()
    if area is None:
        raise NotFound("area.unknown", f"There is no area '{name[:40]}'.", "Reload.")
    said = form_values.text(to, "name", "The name of the area", 80)
    if Area.objects.filter(name__iexact=said).exclude(pk=area.pk).exists():
        raise InputError("area.taken", "name", f"'{said}' is there already.", "Areas are once.")
    area.name = said
    area.save(update_fields=["name"])
    return area

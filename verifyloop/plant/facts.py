"""An instrument as the core wants it."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Any

import calibration.families  # noqa: F401  # registers them
from calibration.decisions.tolerance import Tolerance, in_words
from calibration.engine.job.events import InstrumentFacts, Parameter
from calibration.engine.job.parameters import freeze
from calibration.engine.job.sealing import canonical
from calibration.engine.method.family import Family, family_by_facts, newest, newest_methods
from calibration.kernel.codec import decode
from verifyloop.plant.models import Instrument, SiteRule

LOOP_ROLES = {
    "control": "control loop",
    "trip": "trip or safety function",
    "indication": "indication only",
}
#: So many records are kept in words; a record that changes is another one.
REMEMBERED = 20_000


#: Under this name rules are kept that a site decides once for all methods that know them.
SITE = "site"


def site_wide(key: str) -> bool:
    """Tell whether a parameter is decided once for the whole site."""
    return any(s.id == key and s.site_wide for m in newest_methods() for s in m.parameters)


def facts_of(
    instrument: Instrument, *, rig: bool, own: Mapping[str, Any] | None = None
) -> InstrumentFacts:
    """Return what a job must know of an instrument; ``own`` with what its history says."""
    return decode(InstrumentFacts, _plain_facts(instrument, rig=rig, own=own))


def _plain_facts(
    instrument: Instrument, *, rig: bool = False, own: Mapping[str, Any] | None = None
) -> dict[str, Any]:
    return {
        "tag": instrument.tag,
        "serial": instrument.serial,
        "maker": instrument.maker,
        "model": instrument.model,
        "description": instrument.description,
        "area": instrument.area.name,
        "loop_role": instrument.loop_role,
        "input_unit": instrument.input_unit,
        "input_lower": instrument.input_lower,
        "input_upper": instrument.input_upper,
        "output_unit": instrument.output_unit,
        "output_lower": instrument.output_lower,
        "output_upper": instrument.output_upper,
        "characteristic": instrument.characteristic,
        "tolerance": instrument.tolerance,
        "tolerance_source": instrument.tolerance_source,
        "smart": instrument.smart,
        "indicated": instrument.indicated,
        "rig": rig,
        "sensor": instrument.sensor,
        "wires": instrument.wires,
        "junction_c": instrument.junction_c,
        **(instrument.own if own is None else own),
        "settings": instrument.settings,
        "indicated_unit": instrument.indicated_unit,
        "indicated_lower": instrument.indicated_lower or None,
        "indicated_upper": instrument.indicated_upper or None,
        "indicated_characteristic": instrument.indicated_characteristic,
    }


def all_rules() -> list[SiteRule]:
    """Return every version of every rule of the site, oldest first."""
    return list(SiteRule.objects.order_by("version"))


def rules_of(method: str, rules: Sequence[SiteRule] | None = None) -> dict[str, SiteRule]:
    """Return the newest rule of the site for each parameter of a method.

    ``rules``: all of them, where they were read already.
    """
    if rules is None:
        rules = list(SiteRule.objects.filter(method__in=(method, SITE)).order_by("version"))
    found = (r for r in rules if r.method in (method, SITE))
    return {r.key: r for r in found if site_wide(r.key) == (r.method == SITE)}


def site_choice(key: str, otherwise: str) -> str:
    """Return what the site decided once for all methods; ``otherwise`` where it did not."""
    rule = SiteRule.objects.filter(method=SITE, key=key).order_by("-version").first()
    return rule.value if rule is not None and rule.value else otherwise


def rule_scope(method: str, key: str) -> str:
    """Return for what a rule is kept: for one method, or for the whole site."""
    return SITE if site_wide(key) else method


def said_by(rule: SiteRule) -> str:
    """Return who says a rule of the site, with its version."""
    return f"{rule.source}, version {rule.version}"


def parameters_of(
    instrument: Instrument, rules: Sequence[SiteRule] | None = None, method: str = ""
) -> dict[str, Parameter]:
    """Return the parameters of a method at an instrument: manual over site rule over default.

    ``method``: its first plan's where none is given.
    """
    method = method or instrument.plan.method
    plan = instrument.plan_of(method)
    changes = {
        key: Parameter(value=rule.value, unit=rule.unit, source=said_by(rule))
        for key, rule in rules_of(method, rules).items()
        if rule.value
    }
    for key, entry in plan.parameters.items() if plan is not None else ():
        changes[key] = decode(Parameter, entry, f"parameters.{key}")
    return freeze(newest(method), changes)


def range_text(instrument: Instrument) -> str:
    """Return the range in words, in the way of its family."""
    if instrument.own:
        said = _own_range(canonical(_plain_facts(instrument)))
        if said is not None:
            return said
    return f"{instrument.input_lower} to {instrument.input_upper} {instrument.input_unit}"


def family_of_instrument(instrument: Instrument) -> Family | None:
    """Return the family of an instrument, by what is on record; none where none knows it."""
    return _family(canonical(_plain_facts(instrument)))


@lru_cache(maxsize=REMEMBERED)
def _family(record: str) -> Family | None:
    return family_by_facts(decode(InstrumentFacts, json.loads(record)))


@lru_cache(maxsize=REMEMBERED)
def _own_range(record: str) -> str | None:
    """Return the words of a family for a record; the same record has the same words."""
    facts = decode(InstrumentFacts, json.loads(record))
    family = family_by_facts(facts)
    if family is None or family.said.span is None:
        return None
    return str(family.said.span(facts))


def tolerance_text(instrument: Instrument) -> str:
    """Return the tolerance in words."""
    said = canonical(instrument.tolerance)
    return _tolerance_words(said, instrument.input_unit, instrument.output_unit)


@lru_cache(maxsize=REMEMBERED)
def _tolerance_words(record: str, input_unit: str, output_unit: str) -> str:
    tolerance = decode(Tolerance, json.loads(record), "tolerance")
    return in_words(tolerance, input_unit, output_unit)

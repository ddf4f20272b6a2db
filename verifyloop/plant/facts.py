"""An instrument as the core wants it."""

from __future__ import annotations

from collections.abc import Mapping

from calibration.decisions.tolerance import Tolerance, in_words
from calibration.engine.events import InstrumentFacts, Parameter
from calibration.engine.parameters import freeze
from calibration.families import newest
from calibration.gas.table import LelSet
from calibration.kernel.codec import decode
from verifyloop.plant.models import Instrument, SiteRule

LOOP_ROLES = {
    "control": "control loop",
    "trip": "trip or safety function",
    "indication": "indication only",
}


#: Parameters that a site decides once for all methods that know them.
SITE_WIDE = ("lel_set",)
SITE = "site"


def facts_of(
    instrument: Instrument, *, rig: bool, sensors: Mapping[str, Mapping[str, str]] | None = None
) -> InstrumentFacts:
    """Return what a job must know of an instrument; ``sensors``: by channel, from its history."""
    known = sensors or {}
    return decode(
        InstrumentFacts,
        {
            "tag": instrument.tag,
            "serial": instrument.serial,
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
            "channels": [{**c, **known.get(c["id"], {})} for c in instrument.channels],
            "inhibit_ma": instrument.inhibit_ma,
            "cover_shut": instrument.cover_shut,
            "settings": instrument.settings,
            "indicated_unit": instrument.indicated_unit,
            "indicated_lower": instrument.indicated_lower or None,
            "indicated_upper": instrument.indicated_upper or None,
            "indicated_characteristic": instrument.indicated_characteristic,
        },
    )


def rules_of(method: str) -> dict[str, SiteRule]:
    """Return the newest rule of the site for each parameter of a method."""
    found = SiteRule.objects.filter(method__in=(method, SITE)).order_by("version")
    return {r.key: r for r in found if (r.key in SITE_WIDE) == (r.method == SITE)}


def site_lel_set() -> LelSet:
    """Return the table of explosive limits that the site counts %LEL by."""
    rule = SiteRule.objects.filter(method=SITE, key="lel_set").order_by("-version").first()
    return "NFPA" if rule is not None and rule.value == "NFPA" else "IEC"


def rule_scope(method: str, key: str) -> str:
    """Return for what a rule is kept: for one method, or for the whole site."""
    return SITE if key in SITE_WIDE else method


def said_by(rule: SiteRule) -> str:
    """Return who says a rule of the site, with its version."""
    return f"{rule.source}, version {rule.version}"


def parameters_of(instrument: Instrument) -> dict[str, Parameter]:
    """Return the parameters of an instrument's method: manual over site rule over default."""
    changes = {
        key: Parameter(value=rule.value, unit=rule.unit, source=said_by(rule))
        for key, rule in rules_of(instrument.method).items()
        if rule.value
    }
    for key, entry in instrument.parameters.items():
        changes[key] = decode(Parameter, entry, f"parameters.{key}")
    return freeze(newest(instrument.method), changes)


def range_text(instrument: Instrument) -> str:
    """Return the range in words; of a detector gas by gas."""
    if instrument.channels:
        return ", ".join(f"{c['gas']} to {c['range']} {c['unit']}" for c in instrument.channels)
    return f"{instrument.input_lower} to {instrument.input_upper} {instrument.input_unit}"


def tolerance_text(instrument: Instrument) -> str:
    """Return the tolerance in words."""
    tolerance = decode(Tolerance, instrument.tolerance, "tolerance")
    return in_words(tolerance, instrument.input_unit, instrument.output_unit)

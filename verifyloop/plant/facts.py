"""An instrument as the core wants it."""

from __future__ import annotations

from calibration.codec import decode
from calibration.procedure.events import InstrumentFacts, Parameter
from calibration.procedure.methods import newest
from calibration.procedure.parameters import freeze
from calibration.tolerance import Tolerance, in_words
from verifyloop.plant.models import Instrument, SiteRule

LOOP_ROLES = {
    "control": "control loop",
    "trip": "trip or safety function",
    "indication": "indication only",
}


def facts_of(instrument: Instrument, *, rig: bool) -> InstrumentFacts:
    """Return what a job must know of an instrument."""
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
            "settings": instrument.settings,
            "indicated_unit": instrument.indicated_unit,
            "indicated_lower": instrument.indicated_lower or None,
            "indicated_upper": instrument.indicated_upper or None,
            "indicated_characteristic": instrument.indicated_characteristic,
        },
    )


def rules_of(method: str) -> dict[str, SiteRule]:
    """Return the newest rule of the site for each parameter of a method."""
    return {r.key: r for r in SiteRule.objects.filter(method=method).order_by("version")}


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


def tolerance_text(instrument: Instrument) -> str:
    """Return the tolerance in words."""
    tolerance = decode(Tolerance, instrument.tolerance, "tolerance")
    return in_words(tolerance, instrument.input_unit, instrument.output_unit)

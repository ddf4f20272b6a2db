"""Methods with their parameters: what the product says, what the site says, and since when."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

import calibration.families  # noqa: F401  # registers them
from calibration.engine.method.family import newest, newest_methods
from calibration.engine.method.method import Method, ParameterSpec
from calibration.kernel.present import words
from verifyloop.plant import services
from verifyloop.plant.facts import all_rules, rule_scope
from verifyloop.plant.models import Plan, SiteRule

router = Router(tags=["methods"])


class RuleOut(Schema):
    """One version of a rule of the site."""

    version: int
    value: str
    source: str
    by: str
    at: str


def choices_said(spec: ParameterSpec) -> list[str]:
    """Return what a parameter may be as people say it; nothing where it is a number."""
    return [words(choice) for choice in spec.choices]


def said_of(spec: ParameterSpec, value: str) -> str:
    """Return a value of a parameter as people say it."""
    return words(value) if spec.kind == "choice" else value


class ParameterOut(Schema):
    """A parameter of a method: default, and the site's rule if there is one."""

    id: str
    label: str
    unit: str
    kind: str
    choices: list[str]
    #: the same as people say them
    choices_said: list[str]
    default: str
    value: str
    #: default and value as people say them
    default_said: str
    said: str
    source: str
    #: of the rule that counts now; 0 where there never was one
    version: int
    history: list[RuleOut]


class MethodOut(Schema):
    """A method in its newest version."""

    id: str
    version: int
    title: str
    fits: str
    sources: str
    instruments: int
    steps: list[str]
    parameters: list[ParameterOut]


class RuleIn(Schema):
    """A new value for all instruments of a method; empty goes back to the product default."""

    key: str
    value: str
    source: str
    #: of the rule that it goes over; 0 where there is none
    version: int


@router.get("", response=list[MethodOut], operation_id="listMethods")
def list_methods(request: HttpRequest) -> list[MethodOut]:
    """Return every method with its parameters and what the site has set."""
    rules = all_rules()
    planned = Counter(Plan.objects.values_list("method", flat=True))
    return [_method(m, rules, planned[m.id]) for m in newest_methods()]


@router.post("/{method_id}/rules", response=MethodOut, operation_id="changeRule")
def change_rule(request: HttpRequest, method_id: str, body: RuleIn) -> MethodOut:
    """Set a parameter for all instruments of a method; running jobs keep theirs."""
    services.change_rule(
        actor=request.user,  # type: ignore[arg-type]
        method=method_id,
        key=body.key,
        value=body.value,
        source=body.source,
        version=body.version,
        now=timezone.now(),
    )
    count = Plan.objects.filter(method=method_id).count()
    return _method(newest(method_id), all_rules(), count)


def _method(m: Method, every: Sequence[SiteRule], planned: int) -> MethodOut:
    rules: dict[str, list[SiteRule]] = {}
    for rule in reversed(every):
        if rule.method == rule_scope(m.id, rule.key):
            rules.setdefault(rule.key, []).append(rule)
    return MethodOut(
        id=m.id,
        version=m.version,
        title=m.title,
        fits=m.fits,
        sources=m.sources,
        instruments=planned,
        steps=[s.title for s in m.steps],
        parameters=[_parameter(spec, rules.get(spec.id, [])) for spec in m.parameters],
    )


def _parameter(spec: ParameterSpec, rules: list[SiteRule]) -> ParameterOut:
    said = rules[0] if rules and rules[0].value else None
    return ParameterOut(
        id=spec.id,
        label=spec.label,
        unit=spec.unit,
        kind=spec.kind,
        choices=list(spec.choices),
        choices_said=choices_said(spec),
        default=spec.default,
        value=said.value if said else spec.default,
        default_said=said_of(spec, spec.default),
        said=said_of(spec, said.value if said else spec.default),
        source=f"{said.source}, version {said.version}" if said else "product default",
        version=rules[0].version if rules else 0,
        history=[
            RuleOut(
                version=r.version,
                value=said_of(spec, r.value or spec.default),
                source=r.source if r.value else f"{r.source} (back to the default)",
                by=r.by,
                at=r.at.isoformat() if r.at else "",
            )
            for r in rules
        ],
    )

"""The parameters of a job, typed: frozen values first, product defaults after."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import cast

from calibration.decision import Rule
from calibration.numbers import HUNDRED, parse_decimal
from calibration.procedure.events import Opened, Parameter
from calibration.procedure.method import Method
from calibration.run import Pattern

DEFAULT_SOURCE = "product default"
_CHOICES = {
    "pattern": ("up", "up_down", "down_up"),
    "school": ("when_needed", "always"),
    "decision_rule": ("simple", "guarded", "guarded_rss"),
}


def freeze(method: Method, changes: Mapping[str, Parameter]) -> dict[str, Parameter]:
    """Return all parameters of a method with the changes of site and manual laid over them."""
    return {
        spec.id: changes.get(
            spec.id, Parameter(value=spec.default, unit=spec.unit, source=DEFAULT_SOURCE)
        )
        for spec in method.parameters
    }


class Settings:
    """Typed access to the parameters of one job."""

    def __init__(self, method: Method, opened: Opened) -> None:
        self._values = freeze(method, opened.parameters)

    def parameter(self, name: str) -> Parameter:
        """Return value, unit and source."""
        return self._values[name]

    def number(self, name: str) -> Decimal:
        """Return a numeric parameter."""
        return parse_decimal(self._values[name].value, f"parameters.{name}")

    def share(self, name: str) -> Decimal:
        """Return a percentage as a share of 1."""
        return self.number(name) / HUNDRED

    def _choice(self, name: str) -> str:
        value = self._values[name].value
        return value if value in _CHOICES[name] else _CHOICES[name][0]

    @property
    def pattern(self) -> Pattern:
        """Return the order of the points."""
        return cast(Pattern, self._choice("pattern"))

    @property
    def rule(self) -> Rule:
        """Return the site's decision rule."""
        return cast(Rule, self._choice("decision_rule"))

    @property
    def always_adjust(self) -> bool:
        """Tell whether the site trims to nominal at every visit."""
        return self._choice("school") == "always"

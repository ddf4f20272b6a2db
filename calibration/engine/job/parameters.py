"""The parameters of a job, typed: frozen values first, product defaults after."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import cast

from calibration.decisions.decision import Rule
from calibration.engine.job.events import Opened, Parameter
from calibration.engine.method.method import Method, ParameterSpec
from calibration.kernel.errors import InputError
from calibration.kernel.numbers import HUNDRED, parse_decimal
from calibration.runs.points import POINT_COUNTS, Pattern

DEFAULT_SOURCE = "product default"


def check(spec: ParameterSpec, value: str) -> None:
    """Refuse a value that a parameter cannot have.

    Raises
    ------
    InputError
        ``parameter.choice``, ``parameter.range``, ``points.count``, ``points.order``, and those
        of a number.
    """
    if spec.kind == "choice":
        if value not in spec.choices:
            raise InputError(
                "parameter.choice",
                "value",
                f"'{value[:40]}' cannot be chosen for '{spec.label}'.",
                "Choose one of: " + ", ".join(spec.choices) + ".",
            )
        return
    numbers = [parse_decimal(p, "value") for p in (value.split() or [""])]
    if spec.kind == "points" and len(numbers) > 1:
        if numbers != sorted(set(numbers)) or not all(-10 <= n <= 110 for n in numbers):
            raise InputError(
                "points.order",
                "value",
                "The points must rise, without repeats, from −10 to 110 %.",
                "Write them from low to high with blanks between, for example 0 25 50 75 100.",
            )
        return
    if spec.kind == "points" and numbers[0] not in POINT_COUNTS:
        raise InputError(
            "points.count", "value", f"{value} points.", "Use 3, 5, 9 or 11, or list the percents."
        )
    if not parse_decimal(spec.least, "least") <= numbers[0] <= parse_decimal(spec.most, "most"):
        raise InputError(
            "parameter.range",
            "value",
            f"'{spec.label}' goes from {spec.least} to {spec.most} {spec.unit}.".replace(" .", "."),
            "Choose a value in between.",
        )


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
        self._specs = {spec.id: spec for spec in method.parameters}

    def parameter(self, name: str) -> Parameter:
        """Return value, unit and source."""
        return self._values[name]

    def number(self, name: str) -> Decimal:
        """Return a numeric parameter."""
        return parse_decimal(self._values[name].value, f"parameters.{name}")

    def share(self, name: str) -> Decimal:
        """Return a percentage as a share of 1."""
        return self.number(name) / HUNDRED

    def has(self, name: str) -> bool:
        """Tell whether the method knows a parameter."""
        return name in self._values

    def says_yes(self, name: str) -> bool:
        """Tell whether a yes-or-no parameter says yes."""
        return self.has(name) and self._values[name].value == "yes"

    def choice(self, name: str) -> str:
        """Return a parameter that is one of several words; the default for any other."""
        value, spec = self._values[name].value, self._specs[name]
        return value if value in spec.choices else spec.default

    @property
    def points(self) -> int:
        """Return the number of evenly spaced points."""
        return int(self.number("points"))

    @property
    def percents(self) -> tuple[Decimal, ...]:
        """Return the points of the run where they are given one by one. [% of input span]

        Spaced by flow, the percentages are of flow: the differential pressure is their square.
        """
        text = self._values["points"].value
        if len(text.split()) < 2:
            return ()
        given = tuple(parse_decimal(p, "parameters.points") for p in text.split())
        if self.has("spacing") and self.choice("spacing") == "flow":
            return tuple(p * p / HUNDRED for p in given)
        return given

    @property
    def cycles(self) -> int:
        """Return how many times the pattern is run."""
        return int(self.number("cycles"))

    @property
    def pattern(self) -> Pattern:
        """Return the order of the points."""
        return cast(Pattern, self.choice("pattern"))

    @property
    def rule(self) -> Rule:
        """Return the site's decision rule."""
        return cast(Rule, self.choice("decision_rule"))

    @property
    def always_adjust(self) -> bool:
        """Tell whether the site trims to nominal at every visit."""
        return self.choice("school") == "always"

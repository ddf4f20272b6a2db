"""Finding a calculation by what one has in mind: "250 ohm", "K 500", "weights displacer"."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cache
from typing import Any, get_args

from calibration.gas.table import GasName
from calibration.kernel.registry import OPERATIONS, Family, Operation, find
from calibration.kernel.units import KPA_PER

#: Operations that are parts of others' screens and no calculator of their own.
UNLISTED = frozenset({"table.make"})
FAMILIES = get_args(Family)


@dataclass(frozen=True)
class Found:
    """A calculation, with the inputs that the words themselves hold."""

    operation: Operation
    given: Mapping[str, Any] = field(default_factory=dict)


def listed() -> tuple[Operation, ...]:
    """Return all calculators, by family and name."""
    return _listed()


@cache
def _listed() -> tuple[Operation, ...]:
    return tuple(
        sorted(
            (op for op in OPERATIONS.values() if op.name not in UNLISTED),
            key=lambda op: (FAMILIES.index(op.family), op.title),
        )
    )


_PRESSURE = {u.lower(): u for u in KPA_PER}
_NUMBER = r"(-?\d+(?:[.,]\d+)?)"
_PATTERNS: tuple[tuple[re.Pattern[str], str, Callable[[re.Match[str]], dict[str, Any]]], ...] = (
    (
        re.compile(rf"^([bejknrst]) {_NUMBER}(?: ?°?c)?$"),
        "thermocouple.emf",
        lambda m: {"type": m[1].upper(), "temperature_c": m[2]},
    ),
    (
        re.compile(rf"^([bejknrst]) {_NUMBER} ?mv$"),
        "thermocouple.temperature",
        lambda m: {"type": m[1].upper(), "emf_mv": m[2]},
    ),
    (
        re.compile(rf"^pt ?(100|200|500|1000) {_NUMBER}(?: ?°?c)?$"),
        "rtd.resistance",
        lambda m: {"r0_ohm": m[1], "temperature_c": m[2]},
    ),
    (
        re.compile(rf"^pt ?(100|200|500|1000) {_NUMBER} ?(?:ohm|Ω|ω)$"),
        "rtd.temperature",
        lambda m: {"r0_ohm": m[1], "resistance_ohm": m[2]},
    ),
    (
        re.compile(rf"^{_NUMBER} ?ohm$"),
        "loop.supply",
        lambda m: {"resistor_ohm": m[1]},
    ),
    (
        re.compile(rf"^{_NUMBER} ?ohm$"),
        "rtd.temperature",
        lambda m: {"resistance_ohm": m[1]},
    ),
    (
        re.compile(rf"^{_NUMBER} ?ma$"),
        "signal.scale",
        lambda m: {"output": m[1], "input": None, "percent": None},
    ),
    (
        re.compile(rf"^{_NUMBER} ?({'|'.join(_PRESSURE)})$"),
        "unit.convert",
        lambda m: {"value": m[1], "unit": _PRESSURE[m[2]], "to_unit": ""},
    ),
)


def search(text: str, most: int = 8) -> tuple[Found, ...]:
    """Return the calculations that fit the words best, best first.

    Every word must begin a word of the title, the family or the search words; a word of the title
    counts more. Words that hold inputs (a type and a temperature, a resistor, a gas) fill them in.
    """
    wanted = " ".join(text.lower().split())[:80]
    if not wanted:
        return ()
    filled = [Found(find(name), take(m)) for p, name, take in _PATTERNS if (m := p.match(wanted))]
    tokens = _tokens(wanted)
    scored = []
    for op in listed():
        score = _score(op, tokens)
        if score:
            scored.append((-score, op.title, Found(op, _gas(op, wanted))))
    scored.sort(key=lambda s: s[:2])
    have = {f.operation.name for f in filled}
    rest = [f for _, _, f in scored if f.operation.name not in have]
    return tuple([*filled, *rest][:most])


@dataclass(frozen=True)
class _Index:
    """The words of one calculator with what a find in them is worth."""

    pools: tuple[tuple[list[str], int], ...]


@cache
def _index(op_name: str) -> _Index:
    op = find(op_name)
    names = op.name.replace(".", " ").replace("_", " ")
    return _Index(
        (
            (_tokens(op.title), 8),
            (_tokens(names), 8),
            (_tokens(op.words), 4),
            (_tokens(op.family), 1),
        )
    )


def _tokens(text: str) -> list[str]:
    return [t for t in re.split(r"[^\w%/°²³.+-]+", text.lower()) if t]


_FILLING = frozenset({"and", "the", "of", "a", "for", "to", "in", "is", "how", "many", "long"})


def _score(op: Operation, tokens: list[str]) -> int:
    total = 0
    for token in tokens:
        if token in _FILLING:
            continue
        best = 0
        for pool, weight in _index(op.name).pools:
            for place, known in enumerate(pool):
                if known == token:
                    best = max(best, 2 * weight + (2 if place == 0 else 0))
                elif known.startswith(token):
                    best = max(best, weight + (1 if place == 0 else 0))
        if not best:
            return 0
        total += best
    return total


def _gas(op: Operation, text: str) -> dict[str, Any]:
    if op.name != "gas.convert":
        return {}
    gases = [g for g in get_args(GasName) if re.search(rf"\b{g}\b", text)]
    return {"gas": gases[0]} if len(gases) == 1 else {}

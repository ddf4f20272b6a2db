"""Between plain JSON values and the frozen dataclasses of the core."""

from __future__ import annotations

import dataclasses
import functools
import math
import re
import types
from collections.abc import Mapping
from decimal import Decimal
from typing import Any, Literal, TypeVar, Union, get_args, get_origin, get_type_hints

from calibration.kernel.errors import InputError
from calibration.kernel.numbers import exact, parse_decimal
from calibration.kernel.own import Own
from calibration.kernel.units import alternatives, convert

T = TypeVar("T")
LONGEST_TEXT = 4000


def about(
    text: str,
    *,
    unit: str = "",
    default: Any = dataclasses.MISSING,
    fixed_unit: bool = False,
    decimals: int | None = None,
    significant: int | None = None,
    label: str = "",
    hidden: bool = False,
) -> Any:
    """Declare a dataclass field with the sentence and the unit that its schema shows.

    Parameters
    ----------
    fixed_unit : bool
        True where no other unit may be chosen, e.g. for a difference of temperatures.
    decimals : int, optional
        How many decimals people are shown of a result.
    significant : int, optional
        To how many significant digits people are shown a result; the whole figure stays at hand.
    label : str
        What people see beside the figure, where the sentence is too long for it.
    hidden : bool
        True where it is not for people: a form does not ask for it, a screen does not show it.

    >>> about("value applied", unit="kPa").metadata["units"][:3]
    ('kPa', 'bar', 'mbar')
    """
    metadata = {
        "about": text,
        "label": label,
        "hidden": hidden,
        "unit": unit,
        "units": () if fixed_unit else alternatives(unit),
        "decimals": decimals,
        "significant": significant,
    }
    if default is dataclasses.MISSING:
        return dataclasses.field(metadata=metadata)
    return dataclasses.field(default=default, metadata=metadata)


@functools.cache
def _hints(cls: type) -> dict[str, Any]:
    return get_type_hints(cls)


@functools.cache
def _fields(cls: type) -> tuple[dataclasses.Field[Any], ...]:
    return dataclasses.fields(cls)


def swept() -> Any:
    """Declare the field that takes every name which a dataclass does not know.

    >>> swept().metadata["sweeps"]
    True
    """
    return dataclasses.field(default=Own(), metadata={"sweeps": True, "hidden": True})


def read(cls: type[T], own: Own, field: str = "") -> T:
    """Return what a family kept in :class:`Own` as the family's own type.

    Raises
    ------
    InputError
        Those of :func:`decode`.

    >>> @dataclasses.dataclass(frozen=True)
    ... class Cell:
    ...     rated_kg: Decimal
    >>> read(Cell, Own({"rated_kg": "60000"}))
    Cell(rated_kg=Decimal('60000'))
    """
    found: T = _read(cls, own, field)  # type: ignore[arg-type]
    return found


@functools.lru_cache(maxsize=4096)
def _read(cls: Any, own: Own, field: str) -> Any:
    return decode(cls, own.values, field)


def decode(cls: type[T], value: object, field: str = "") -> T:
    """Build ``cls`` from plain JSON values.

    Raises
    ------
    InputError
        ``field.missing``, ``field.unknown``, ``field.wrong_type``, ``field.not_a_choice``,
        ``text.too_long`` and the ``number.*`` codes, each naming the field.

    >>> @dataclasses.dataclass(frozen=True)
    ... class Point:
    ...     applied: Decimal
    >>> decode(Point, {"applied": "4,00"})
    Point(applied=Decimal('4.00'))
    >>> decode(Point, {})
    Traceback (most recent call last):
        ...
    calibration.kernel.errors.InputError: 'applied' is missing.
    """
    decoded = _decode(cls, value, field)
    return decoded  # type: ignore[no-any-return]


def _decode(hint: Any, value: object, field: str) -> Any:
    if hint is Decimal:
        return parse_decimal(value, field)
    if hint is float:
        return _float(value, field)
    if hint is int:
        return _int(value, field)
    if hint is Any:
        return value
    if hint is bool:
        if not isinstance(value, bool):
            raise _wrong(field, "yes or no (true or false)")
        return value
    if hint is str:
        return _text(value, field)
    if dataclasses.is_dataclass(hint):
        return _record(hint, value, field)
    return _decode_generic(hint, value, field)


@functools.cache
def _parts(hint: Any) -> tuple[Any, tuple[Any, ...]]:
    return get_origin(hint), get_args(hint)


def _decode_generic(hint: Any, value: object, field: str) -> Any:
    origin, args = _parts(hint)
    if origin is Literal:
        if value.__class__ is str and value in args:
            return value
        chosen = [a for a in args if isinstance(value, (str, int)) and str(a) == str(value)]
        if not chosen:
            raise InputError(
                "field.not_a_choice",
                field,
                f"'{str(value)[:60]}' is not one of the choices.",
                "Choose one of: " + ", ".join(map(str, args)) + ".",
            )
        return chosen[0]
    if origin in (Union, types.UnionType):
        inner = [a for a in args if a is not type(None)]
        if value is None:
            return None
        return _decode(next((a for a in inner if a is value.__class__), inner[0]), value, field)
    if origin is tuple:
        if not isinstance(value, (list, tuple)):
            raise _wrong(field, "a list")
        return tuple(_decode(args[0], item, f"{field}.{i}") for i, item in enumerate(value))
    if origin in (dict, Mapping):
        if not isinstance(value, Mapping):
            raise _wrong(field, "named values")
        return {str(k): _decode(args[1], v, f"{field}.{k}") for k, v in value.items()}
    raise TypeError(f"no decoding for {hint!r}")


@functools.cache
def _known(cls: type) -> dict[str, dataclasses.Field[Any]]:
    return {f.name: f for f in _fields(cls)}


def _record(cls: Any, value: object, field: str) -> Any:
    if isinstance(value, cls):
        return value
    if not isinstance(value, Mapping):
        raise _wrong(field or "input", "an object with named fields")
    prefix = f"{field}." if field else ""
    known = _known(cls)
    own: dict[str, Any] = {}
    for name in value:
        if name not in known and "own" in known:
            own[str(name)] = encode(value[name])
        elif name not in known:
            raise InputError(
                "field.unknown",
                f"{prefix}{name}"[:120],
                f"There is no field '{str(name)[:60]}' here.",
                "Use: " + ", ".join(known) + ".",
            )
    hints = _hints(cls)
    found: dict[str, Any] = {}
    for name, spec in known.items():
        if spec.name == "own" and spec.metadata.get("sweeps"):
            found[name] = Own(own)
        elif name in value:
            given = value[name]
            if spec.metadata.get("units") and isinstance(given, Mapping):
                given = _quantity(given, spec, prefix + name)
            found[name] = _decode(hints[name], given, prefix + name)
        elif is_required(spec):
            raise InputError(
                "field.missing", prefix + name, f"'{name}' is missing.", "Give this field a value."
            )
    try:
        return cls(**found)
    except InputError as wrong:
        raise wrong.within(field) if field else wrong from None


def decode_field(cls: type, name: str, value: object, field: str) -> Any:
    """Return one field of a dataclass, read by itself.

    Raises
    ------
    InputError
        Those of :func:`decode`.

    >>> @dataclasses.dataclass(frozen=True)
    ... class Point:
    ...     applied: Decimal
    >>> decode_field(Point, "applied", "12.040", "readings.0.applied")
    Decimal('12.040')
    """
    spec = _known(cls)[name]
    if spec.metadata.get("units") and isinstance(value, Mapping):
        value = _quantity(value, spec, field)
    return _decode(_hints(cls)[name], value, field)


def _quantity(given: Mapping[Any, Any], spec: dataclasses.Field[Any], field: str) -> Decimal:
    """Turn a value with a unit of its own into the unit of the field."""
    if set(given) != {"value", "unit"} or not isinstance(given["unit"], str):
        raise _wrong(field, "a number, or a value with its unit")
    number = parse_decimal(given["value"], field)
    with exact():
        found = convert(number, given["unit"], spec.metadata["unit"], field).normalize()
    return found.quantize(Decimal(1)) if found == found.to_integral_value() else found


def is_required(spec: dataclasses.Field[Any]) -> bool:
    """Tell whether a field has no default.

    >>> @dataclasses.dataclass(frozen=True)
    ... class Point:
    ...     applied: Decimal
    ...     note: str = ""
    >>> [is_required(field) for field in dataclasses.fields(Point)]
    [True, False]
    """
    return spec.default is dataclasses.MISSING and spec.default_factory is dataclasses.MISSING


def _wrong(field: str, wanted: str) -> InputError:
    return InputError("field.wrong_type", field, f"This must be {wanted}.", f"Send {wanted}.")


def _float(value: object, field: str) -> float:
    if isinstance(value, (int, float)) and not isinstance(value, bool) and math.isfinite(value):
        return float(value)
    return float(parse_decimal(value, field))


def _int(value: object, field: str) -> int:
    if isinstance(value, bool) or not isinstance(value, (int, str)):
        raise _wrong(field, "a whole number")
    try:
        number = int(value)
    except ValueError:
        raise _wrong(field, "a whole number") from None
    if abs(number) > 10**12:
        raise _wrong(field, "a whole number of at most 12 digits")
    return number


#: Control characters other than tab and the ends of lines, and halves of a character.
_UNPRINTED = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff]")


def _text(value: object, field: str) -> str:
    if not isinstance(value, str):
        raise _wrong(field, "text")
    if len(value) > LONGEST_TEXT:
        raise InputError(
            "text.too_long",
            field,
            f"The text has {len(value)} characters.",
            f"Use at most {LONGEST_TEXT} characters; attach longer papers to the work order.",
        )
    if _UNPRINTED.search(value):
        raise InputError(
            "text.control_characters",
            field,
            "The text holds characters that cannot be printed.",
            "Type the text again.",
        )
    return value


_AS_IS = frozenset({str, int, float, bool, type(None)})


@functools.cache
def _names(cls: type) -> tuple[str, ...] | None:
    if not dataclasses.is_dataclass(cls):
        return None
    return tuple(f.name for f in dataclasses.fields(cls))


def encode(value: Any) -> Any:
    """Return plain JSON values: Decimals as text with their decimals, dataclasses as objects.

    >>> encode({"applied": Decimal("4.00"), "cycles": (1, 2)})
    {'applied': '4.00', 'cycles': [1, 2]}
    """
    kind = value.__class__
    if kind in _AS_IS:
        return value
    if kind is Decimal:
        return format(value, "f")
    if kind is tuple or kind is list:
        return [encode(v) for v in value]
    names = _names(kind)
    if names is not None:
        plain = {name: encode(getattr(value, name)) for name in names}
        own = plain.get("own")
        if own.__class__ is Own:
            del plain["own"]
            plain.update(own.values)
        return plain
    if kind is Own:
        return value
    if isinstance(value, Mapping):
        return {str(k): encode(v) for k, v in value.items()}
    raise TypeError(f"no encoding for {kind!r}")

"""How a result is shown to people: labels, rounded figures, other units, choices in words."""

from __future__ import annotations

import dataclasses
import types
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

from calibration.kernel.errors import InputError
from calibration.kernel.numbers import from_float
from calibration.kernel.rounding import decimals_of, show, significant
from calibration.kernel.units import convert

SIGNIFICANT = 6
MOST_ROWS = 200
#: Powers of ten beyond which a figure is written with one.
SMALLEST, GREATEST = -13, 16


@dataclass(frozen=True, kw_only=True)
class OtherUnit:
    """The same figure in another unit."""

    unit: str
    text: str


@dataclass(frozen=True, kw_only=True)
class Figure:
    """One figure of a result."""

    field: str
    label: str
    text: str
    unit: str
    others: tuple[OtherUnit, ...] = ()
    #: the whole figure, where fewer digits of it are shown
    full: str = ""


@dataclass(frozen=True, kw_only=True)
class Sheet:
    """A list of a result, as a table of texts."""

    field: str
    label: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


@dataclass(frozen=True, kw_only=True)
class Shown:
    """A whole result for people."""

    figures: tuple[Figure, ...]
    sheets: tuple[Sheet, ...]


#: Units that say only "as you chose": of use to a programmer, not on a screen.
UNNAMED = frozenset(
    f"{whose} unit" for whose in ("own", "input", "output", "reading", "result", "reference", "gas")
) | {"any", "same", "reading unit per s"}


def unit_shown(unit: str) -> str:
    """Return the unit to show; nothing where it is whatever the person works in.

    Examples
    --------
    >>> unit_shown("kPa"), unit_shown("input unit")
    ('kPa', '')
    """
    return "" if unit in UNNAMED else unit


#: Choices whose name does not say enough.
CHOICES = {
    "up": "going up only",
    "up_down": "up, then down",
    "down_up": "down, then up",
    "when_needed": "only when needed",
    "always": "always, to nominal",
    "simple": "simple: error against limit",
    "guarded": "guard band: limit minus U",
    "guarded_rss": "guard band: root of limit² minus U²",
}


def words(choice: str) -> str:
    """Return a choice of the core in words: ``square_root`` is ``square root``.

    Examples
    --------
    >>> words("square_root"), words("up_down")
    ('square root', 'up, then down')
    """
    return CHOICES.get(choice, choice.replace("_", " "))


def figure_text(value: object, decimals: int | None = None) -> str:
    """Return one value for people; a number that was typed keeps its decimals.

    >>> figure_text(Decimal("4.00"))
    '4.00'
    >>> figure_text(True)
    'yes'
    """
    if value is None:
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, int):
        return show(Decimal(value), 0)
    if isinstance(value, str):
        return words(value) if " " not in value else value
    if not isinstance(value, (float, Decimal)):
        raise TypeError(f"no text for {value!r}")
    number = from_float(value) if isinstance(value, float) else value
    size = number.adjusted() if number else 0
    if size > GREATEST or (size < SMALLEST and decimals is None):
        return f"{number:.3e}"
    if decimals is not None:
        return show(number, decimals)
    if isinstance(value, Decimal) and len(number.as_tuple().digits) <= SIGNIFICANT + 1:
        return show(number, decimals_of(number))
    if not number:
        return "0"
    if size < -6:
        return f"{number:.3e}"
    text = show(number, max(0, SIGNIFICANT - 1 - size))
    return text.rstrip("0").rstrip(".") if "." in text else text


def given_rows(request: object) -> tuple[Figure, ...]:
    """Return the numbers put in, in order; what was left out is left out.

    >>> from calibration.kernel.codec import about
    >>> @dataclasses.dataclass
    ... class Given:
    ...     at: Decimal = about("value at the point", unit="kPa")
    >>> [(row.label, row.text, row.unit) for row in given_rows(Given(Decimal("4.00")))]
    [('Value at the point', '4.00', 'kPa')]
    """
    rows = []
    for spec in dataclasses.fields(request):  # type: ignore[arg-type]
        value = getattr(request, spec.name)
        if isinstance(value, (tuple, Mapping)) or value is None or value == "":
            continue
        if not dataclasses.is_dataclass(value):
            rows.append(_plain_figure(spec, value))
    return tuple(rows)


def shown(result: object) -> Shown:
    """Return figures and tables of a result.

    >>> from calibration.kernel.codec import about
    >>> @dataclasses.dataclass
    ... class Found:
    ...     error: Decimal = about("its error", unit="%")
    >>> [(figure.label, figure.text) for figure in shown(Found(Decimal("0.05"))).figures]
    [('Its error', '0.05')]
    """
    figures: list[Figure] = []
    sheets: list[Sheet] = []
    for spec in dataclasses.fields(result):  # type: ignore[arg-type]
        value = getattr(result, spec.name)
        if spec.metadata.get("hidden"):
            continue
        if isinstance(value, tuple):
            if value:
                sheets.append(_sheet(spec, value))
        elif dataclasses.is_dataclass(value):
            inner = shown(value)
            figures += inner.figures
            sheets += inner.sheets
        elif not isinstance(value, Mapping):
            figures.append(_figure(spec, value))
    return Shown(figures=_with_own_unit(figures), sheets=tuple(sheets))


def _with_own_unit(figures: list[Figure]) -> tuple[Figure, ...]:
    """Put the result field ``unit`` behind the field ``value``, where there are both."""
    named = {f.field: f for f in figures}
    if "value" not in named or "unit" not in named:
        return tuple(figures)
    own = named["unit"].text
    return tuple(
        dataclasses.replace(f, unit=own) if f.field == "value" else f
        for f in figures
        if f.field != "unit"
    )


def figure_at(record: object, path: str, field: str = "columns") -> Figure:
    """Return one figure by its dotted name, e.g. ``weights.0.hung_g``.

    Raises
    ------
    InputError
        ``columns.unknown``, with the field given.

    >>> from calibration.kernel.codec import about
    >>> @dataclasses.dataclass
    ... class Found:
    ...     error: Decimal = about("its error", unit="%")
    >>> figure_at(Found(Decimal("0.05")), "error").text
    '0.05'
    """
    value: Any = record
    spec: dataclasses.Field[Any] | None = None
    for part in path.split("."):
        if isinstance(value, tuple) and part.isdigit() and int(part) < len(value):
            value = value[int(part)]
            continue
        known = dataclasses.fields(value) if dataclasses.is_dataclass(value) else ()
        spec = next((f for f in known if f.name == part), None)
        if spec is None:
            break
        value = getattr(value, part)
    if spec is None or isinstance(value, (tuple, Mapping)) or dataclasses.is_dataclass(value):
        raise InputError(
            f"{field}.unknown", field, f"There is no figure '{path[:60]}'.", "Choose one it gives."
        )
    return _plain_figure(spec, value)


def label_of(spec: dataclasses.Field[Any]) -> str:
    """Return what a field is called: its sentence, with a capital.

    >>> from calibration.kernel.codec import about
    >>> @dataclasses.dataclass
    ... class Given:
    ...     at: Decimal = about("value at the point", unit="kPa")
    >>> label_of(dataclasses.fields(Given)[0])
    'Value at the point'
    """
    known = spec.metadata
    text = str(known.get("label") or known.get("about") or words(spec.name))
    return text if text.startswith("pH") or len(text) == 1 else text[0].upper() + text[1:]


def _plain_figure(spec: dataclasses.Field[Any], value: object) -> Figure:
    whole = figure_text(value, spec.metadata.get("decimals"))
    digits = spec.metadata.get("significant")
    text = significant(value, digits) if digits and isinstance(value, float) else whole
    return Figure(
        field=spec.name,
        label=label_of(spec),
        text=text,
        full=whole if text != whole else "",
        unit="" if value is None else unit_shown(str(spec.metadata.get("unit", ""))),
    )


def _figure(spec: dataclasses.Field[Any], value: object) -> Figure:
    unit = str(spec.metadata.get("unit", ""))
    others: tuple[OtherUnit, ...] = ()
    if isinstance(value, (float, Decimal)) and spec.metadata.get("units"):
        exact = from_float(value) if isinstance(value, float) else value
        others = tuple(
            OtherUnit(unit=u, text=figure_text(float(convert(exact, unit, u))))
            for u in spec.metadata["units"]
            if u != unit
        )
    return dataclasses.replace(_plain_figure(spec, value), others=others)


def _sheet(spec: dataclasses.Field[Any], values: tuple[Any, ...]) -> Sheet:
    label = label_of(spec)
    rows = values[:MOST_ROWS]
    if not dataclasses.is_dataclass(rows[0]):
        texts = tuple((_cell(v, spec.metadata),) for v in rows)
        return Sheet(field=spec.name, label=label, columns=(label,), rows=texts)
    columns = dataclasses.fields(rows[0])
    return Sheet(
        field=spec.name,
        label=label,
        columns=tuple(_heading(c) for c in columns),
        rows=tuple(tuple(_cell(getattr(row, c.name), c.metadata) for c in columns) for row in rows),
    )


def _cell(value: object, metadata: Mapping[str, Any]) -> str:
    decimals, digits = metadata.get("decimals"), metadata.get("significant")
    if isinstance(value, tuple):
        return ", ".join(figure_text(v, decimals) for v in value)
    if digits and isinstance(value, float):
        return significant(value, digits)
    return "" if value is None else figure_text(value, decimals)


def _heading(spec: dataclasses.Field[Any]) -> str:
    unit = unit_shown(spec.metadata.get("unit", ""))
    return label_of(spec) + (f" [{unit}]" if unit else "")


@dataclass(frozen=True, kw_only=True)
class Entry:
    """One field of a form: how it is typed and what may be chosen."""

    name: str
    label: str
    kind: Literal["number", "choice", "yes_no", "text", "numbers", "choices", "rows", "group"]
    required: bool
    unit: str = ""
    units: tuple[str, ...] = ()
    choices: tuple[str, ...] = ()
    #: The choices as people read them, in the same order.
    choices_said: tuple[str, ...] = ()
    default: str = ""
    entries: tuple[Entry, ...] = ()


def entries(cls: type) -> tuple[Entry, ...]:
    """Return the form of an input type; lists that may stay empty come last.

    >>> from calibration.kernel.codec import about
    >>> @dataclasses.dataclass
    ... class Given:
    ...     at: Decimal = about("value at the point", unit="kPa")
    >>> [(one.name, one.kind, one.unit) for one in entries(Given)]
    [('at', 'number', 'kPa')]
    """
    hints = get_type_hints(cls)
    form = [
        _entry(spec, hints[spec.name])
        for spec in dataclasses.fields(cls)
        if not spec.metadata.get("hidden")
    ]
    return tuple(sorted(form, key=lambda e: e.kind == "rows" and not e.required))


def _entry(spec: dataclasses.Field[Any], hint: Any) -> Entry:
    origin, args = get_origin(hint), get_args(hint)
    if origin in (Union, types.UnionType):
        return dataclasses.replace(_entry(spec, args[0]), required=False)
    default = spec.default
    plain = "" if default in (dataclasses.MISSING, None, ()) else _as_typed(default)
    more: dict[str, Any] = {"kind": _KINDS.get(hint, "group")}
    if origin is Literal:
        more = {"kind": "choice", **_choices(args)}
    elif origin is tuple:
        inner = args[0]
        if get_origin(inner) is Literal:
            more = {"kind": "choices", **_choices(get_args(inner))}
        elif dataclasses.is_dataclass(inner):
            more = {"kind": "rows", "entries": entries(inner)}  # type: ignore[arg-type]
        else:
            more = {"kind": "numbers"}
    elif dataclasses.is_dataclass(hint):
        more = {"kind": "group", "entries": entries(hint)}  # type: ignore[arg-type]
    return Entry(
        name=spec.name,
        label=label_of(spec),
        required=default is dataclasses.MISSING and spec.default_factory is dataclasses.MISSING,
        unit=unit_shown(str(spec.metadata.get("unit", ""))),
        units=tuple(spec.metadata.get("units", ())),
        default=plain,
        **more,
    )


_KINDS = {Decimal: "number", float: "number", int: "number", bool: "yes_no", str: "text"}


def _choices(args: Iterable[object]) -> dict[str, tuple[str, ...]]:
    """Return what may be chosen, and how each is said."""
    choices = tuple(map(str, args))
    return {"choices": choices, "choices_said": tuple(map(words, choices))}


def _as_typed(value: object) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, float):
        return format(Decimal(repr(value)).normalize(), "f")
    if isinstance(value, (str, int, Decimal)):
        return str(value)
    if isinstance(value, tuple):
        return "; ".join(_as_typed(v) for v in value)
    return ""

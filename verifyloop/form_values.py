"""What people typed into a form of the site: text of a length, a day, one of some choices."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from calibration.kernel.errors import InputError


def text(value: str, field: str, label: str, most: int, *, required: bool = True) -> str:
    """Return text without blanks at its ends.

    Raises
    ------
    InputError
        ``text.missing``, ``text.too_long``, ``text.control_characters``.
    """
    said = value.strip()
    if required and not said:
        raise InputError("text.missing", field, f"{label} is missing.", "Fill it in.")
    if len(said) > most:
        raise InputError(
            "text.too_long",
            field,
            f"{label} has {len(said)} characters.",
            f"Use at most {most}.",
        )
    if any(not sign.isprintable() for sign in said):
        raise InputError(
            "text.control_characters",
            field,
            f"{label} holds characters that cannot be printed.",
            "Type it again.",
        )
    return said


def one_of(value: str, field: str, label: str, choices: Sequence[str]) -> str:
    """Return one of some choices.

    Raises
    ------
    InputError
        ``field.not_a_choice``.
    """
    if value not in choices:
        raise InputError(
            "field.not_a_choice",
            field,
            f"{label}: '{value[:40]}' is not one of the choices.",
            "Choose one of: " + ", ".join(choices[:12]) + ".",
        )
    return value


def day(value: str, field: str, label: str) -> date:
    """Return a day that was typed as year-month-day.

    Raises
    ------
    InputError
        ``day.wrong``.
    """
    try:
        return date.fromisoformat(value.strip())
    except ValueError:
        raise InputError(
            "day.wrong",
            field,
            f"{label}: '{value[:20]}' is no day.",
            "Write it as year-month-day, for example 2026-11-26.",
        ) from None


def reason(value: str) -> str:
    """Return why something is changed; a change takes a reason.

    Raises
    ------
    InputError
        ``reason.missing`` and those of :func:`text`.
    """
    if not value.strip():
        raise InputError("reason.missing", "reason", "A change takes a reason.", "Say why.")
    return text(value, "reason", "The reason", 400)

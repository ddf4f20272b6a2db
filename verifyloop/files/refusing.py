"""The refusal of a file."""

from __future__ import annotations

from calibration.kernel.errors import InputError


def refused(code: str, message: str, remedy: str) -> InputError:
    """Return the refusal of a file."""
    return InputError(f"file.{code}", "file", message, remedy)

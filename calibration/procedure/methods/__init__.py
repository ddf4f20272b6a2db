"""The methods, one file a family."""

from __future__ import annotations

from calibration.errors import InputError
from calibration.procedure.method import Method
from calibration.procedure.methods.pressure_transmitter import PRESSURE_TRANSMITTER

METHODS = {(m.id, m.version): m for m in (PRESSURE_TRANSMITTER,)}


def method_for(method_id: str, version: int) -> Method:
    """Return a method in the version that a job began with.

    Raises
    ------
    InputError
        ``method.unknown``.
    """
    try:
        return METHODS[method_id, version]
    except KeyError:
        raise InputError(
            "method.unknown",
            "method",
            f"There is no method '{method_id[:60]}' in version {version}.",
            "Give the instrument one of: " + ", ".join(i for i, _ in METHODS) + ".",
        ) from None


def newest(method_id: str) -> Method:
    """Return the newest version of a method.

    Raises
    ------
    InputError
        ``method.unknown``.
    """
    versions = [v for i, v in METHODS if i == method_id]
    return method_for(method_id, max(versions, default=0))

"""Refusals of the application. They know no HTTP."""

from __future__ import annotations


class DomainError(Exception):
    """A refusal with a machine code, a sentence and a remedy."""

    def __init__(self, code: str, message: str, remedy: str = "", field: str = "") -> None:
        super().__init__(message)
        self.code = code
        self.message = message
        self.remedy = remedy
        self.field = field


class TokenRefused(DomainError):
    """A script's token that is not good, or not for this."""


class NotFound(DomainError):
    """What was asked for does not exist."""


class NotAllowed(DomainError):
    """The person may not do this."""


class Conflict(DomainError):
    """Somebody else changed it in the meantime."""

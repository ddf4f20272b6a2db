"""The one way in which the core refuses something."""

from __future__ import annotations

from collections.abc import Iterable


def one_of(names: Iterable[str], none: str = "Go on with the present step.") -> str:
    """Return a remedy that names what may be used; another one where there is nothing to name.

    >>> one_of(["M-04", "M-17"])
    'Use one of: M-04, M-17.'
    >>> one_of([])
    'Go on with the present step.'
    """
    named = ", ".join(names)
    return f"Use one of: {named}." if named else none


class InputError(ValueError):
    """Input that cannot be used: names the field, what is wrong and what to do about it.

    Parameters
    ----------
    code : str
        Machine word in dotted form, e.g. ``number.not_finite``.
    field : str
        Where the value came from, dotted for nested input, e.g. ``readings.3.applied``.
    message : str
        What is wrong, in the words of the person who typed it.
    remedy : str
        What to do instead.
    suggestion : str
        A value that may have been meant; empty when there is none.
    swap : str
        The other field, where two values look as if each stood in the other's place.
    """

    def __init__(
        self,
        code: str,
        field: str,
        message: str,
        remedy: str = "",
        suggestion: str = "",
        swap: str = "",
    ) -> None:
        super().__init__(message)
        self.code = code
        self.field = field
        self.message = message
        self.remedy = remedy
        self.suggestion = suggestion
        self.swap = swap

    def within(self, prefix: str) -> InputError:
        """Return the same refusal with the field named from one level further out."""
        field = f"{prefix}.{self.field}" if self.field else prefix
        return InputError(self.code, field, self.message, self.remedy, self.suggestion, self.swap)

    def as_dict(self) -> dict[str, str]:
        """Return the refusal as plain text fields for JSON."""
        said = {"code": self.code, "message": self.message, "field": self.field}
        if self.remedy:
            said["remedy"] = self.remedy
        if self.suggestion:
            said["suggestion"] = self.suggestion
        return said

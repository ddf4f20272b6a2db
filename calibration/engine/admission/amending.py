"""A new issue of a signed paper (ISO/IEC 17025:2017, 7.8.8): words are put right, figures never.

A wrong measurement is no error of the paper: it takes a new job.
"""

from __future__ import annotations

import copy
from collections.abc import Mapping
from typing import Any

from calibration.engine.job.ledger import Ledger
from calibration.engine.papers.paper import issue
from calibration.kernel.errors import InputError

#: What may be put right: part and name in the paper, and the words for it.
AMENDABLE: dict[str, tuple[str, str, str]] = {
    "serial": ("instrument", "serial", "Serial number"),
    "maker": ("instrument", "maker", "Maker"),
    "model": ("instrument", "model", "Model"),
    "description": ("instrument", "description", "Description"),
    "area": ("instrument", "area", "Area"),
    "condition": ("instrument", "condition", "Condition as received"),
    "customer": ("site", "customer", "Customer"),
    "laboratory": ("site", "laboratory", "Laboratory"),
    "address": ("site", "address", "Address"),
}
LONGEST = 240


def amended(
    ledger: Ledger, changes: Mapping[str, str], reason: str, at: str
) -> tuple[dict[str, Any], str]:
    """Return the paper of the next issue and what it changes, in words.

    Parameters
    ----------
    ledger : Ledger
        Of a signed job.
    changes : mapping
        Name as in ``AMENDABLE`` to the right words.
    reason : str
    at : str
        When it is issued, ISO 8601 with its zone.

    Raises
    ------
    InputError
        ``amend.not_signed``, ``amend.field``, ``amend.nothing``, ``text.too_long``,
        ``reason.missing``.
    """
    if not ledger.issued:
        raise InputError(
            "amend.not_signed", "job", "There is no certificate yet.", "Correct the job itself."
        )
    if not reason.strip():
        raise InputError(
            "reason.missing", "reason", "A new issue says why.", "Say what was wrong, and why."
        )
    paper = copy.deepcopy(dict(ledger.issued[-1][0].paper))
    said = []
    for name, text in changes.items():
        if name not in AMENDABLE:
            raise InputError(
                "amend.field",
                f"changes.{name[:40]}",
                f"'{name[:40]}' cannot be put right in a paper.",
                "Use one of: " + ", ".join(AMENDABLE) + ". A wrong figure takes a new job.",
            )
        if len(text) > LONGEST:
            raise InputError(
                "text.too_long", f"changes.{name}", "That is too long.", f"Use at most {LONGEST}."
            )
        part, key, label = AMENDABLE[name]
        before, after = str(paper[part].get(key, "")), text.strip()
        if after != before:
            paper[part][key] = after
            said.append(f"{label}: '{before or 'none'}' to '{after or 'none'}'")
    if not said:
        raise InputError(
            "amend.nothing", "changes", "Nothing is different.", "Change what was wrong."
        )
    what = "; ".join(said)
    number = ledger.issued[-1][0].issue + 1
    paper["issue"] = issue(number, at, what=what, reason=reason.strip())
    return paper, what

"""What ends a job with names under it: signature, paper, review. The contents of these events."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from calibration.kernel.codec import about


@dataclass(frozen=True, kw_only=True)
class Signed:
    """The technician signs; the job is closed."""

    name: str = about("who signs")
    statement: str = about("what is stated")
    account_note: str = about("what a reader must know of the account", default="")


@dataclass(frozen=True, kw_only=True)
class Issued:
    """The paper of the signed job, as it was worked out then; papers are made from it for ever."""

    issue: int = about("number of the issue, from 1")
    core: str = about("version of the rules that worked it out")
    paper: Any = about("content of the certificate")
    projected: Any = about("what lists show of the job", default=None)
    what: str = about("what an amendment changes", default="")
    reason: str = about("why it was issued again, or later than it was signed", default="")


@dataclass(frozen=True, kw_only=True)
class Reviewed:
    """A second person looked through the signed record."""

    name: str = about("who reviewed")
    outcome: Literal["accepted", "redo"] = about("result of the review")
    comment: str = about("remark", default="")
    account_note: str = about("what a reader must know of the account", default="")

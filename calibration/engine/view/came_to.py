"""What a job came to, as screens and papers show it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal


@dataclass(frozen=True, kw_only=True)
class Outcome:
    """What a job came to, from when it is to be signed on."""

    id: Literal["", "within", "adjusted", "limited", "failed", "stopped"]
    words: str
    why: str
    #: the instrument was left as it should be
    good: bool


@dataclass(frozen=True, kw_only=True)
class AskedChoice:
    """One thing that may be true."""

    id: str
    label: str


@dataclass(frozen=True, kw_only=True)
class AskedField:
    """One answer of a question, in words."""

    id: str
    label: str
    hint: str
    required: bool
    #: said often: one tap fills it in
    often: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Asked:
    """A question that a job asks once something went wrong; its answer is an event of this kind."""

    kind: str
    title: str
    why: str
    #: what may be true: id and words; empty where nothing is to be chosen
    choices: tuple[AskedChoice, ...]
    fields: tuple[AskedField, ...]
    #: name of the value that is chosen, and what is sent with it
    choice: str = "state"
    data: Mapping[str, str] = field(default_factory=dict)
    #: what the button says that opens it, where it is not asked by itself
    button: str = ""
    #: it has a button of its own on every step, and is not opened from within one
    beside: bool = False

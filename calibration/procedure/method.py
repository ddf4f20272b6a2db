"""A method is data: stages, steps, and parameters with their source."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

StageId = Literal["plan", "safe", "identify", "found", "adjust", "left", "return"]
StepKind = Literal[
    "kit",
    "record",
    "checklist",
    "put_on",
    "take_off",
    "timer",
    "capture",
    "decide",
    "adjust",
    "sign",
]
STAGES: tuple[tuple[StageId, str], ...] = (
    ("plan", "Plan"),
    ("safe", "Make safe"),
    ("identify", "Identify"),
    ("found", "As found"),
    ("adjust", "Adjust"),
    ("left", "As left"),
    ("return", "Return"),
)


@dataclass(frozen=True, kw_only=True)
class Item:
    """One line to confirm."""

    id: str
    label: str


@dataclass(frozen=True, kw_only=True)
class Field:
    """One value to write down."""

    id: str
    label: str
    kind: Literal["text", "number"] = "text"
    unit: str = ""
    required: bool = True
    #: name of the instrument fact that it must agree with
    must_match: str = ""
    hint: str = ""


@dataclass(frozen=True, kw_only=True)
class KitRole:
    """A reference that the method needs."""

    id: str
    label: str
    quantity: Literal["pressure", "current"]


@dataclass(frozen=True, kw_only=True)
class Step:
    """One step of a stage."""

    id: str
    stage: StageId
    kind: StepKind
    title: str
    instruction: str
    why: str = ""
    caution: str = ""
    items: tuple[Item, ...] = ()
    fields: tuple[Field, ...] = ()
    roles: tuple[KitRole, ...] = ()
    #: for put_on: what is on afterwards; for take_off: the put_on step that it ends
    on_label: str = ""
    ends: str = ""
    #: for a timer: the parameter with its length in minutes
    minutes: str = ""
    run: Literal["as_found", "as_left", ""] = ""
    #: ``adjusting``: only after the decision to adjust. ``left_outside``: only when as left fails.
    only_if: Literal["", "adjusting", "left_outside"] = ""


@dataclass(frozen=True, kw_only=True)
class ParameterSpec:
    """A limit or setting that a site or a manual may change."""

    id: str
    label: str
    default: str
    unit: str = ""


@dataclass(frozen=True, kw_only=True)
class Method:
    """A way of calibrating one family of instruments."""

    id: str
    version: int
    title: str
    steps: tuple[Step, ...]
    parameters: tuple[ParameterSpec, ...]
    sources: str

    def step(self, step_id: str) -> Step | None:
        """Return a step by id, or none."""
        return next((s for s in self.steps if s.id == step_id), None)

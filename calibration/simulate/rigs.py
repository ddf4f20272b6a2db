"""One door to all virtual rigs: which kind a model is, is written in it. Families add theirs."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from calibration.kernel.codec import decode
from calibration.simulate import block, detector, loop
from calibration.simulate.commands import Command, Live

#: A dataclass with its kind in a field ``kind``.
Model = Any


@dataclass(frozen=True, kw_only=True)
class RigKind:
    """What one kind of virtual rig answers; each a pure function of model, commands and time."""

    model: type
    live: Callable[[Any, Sequence[Command], float, int], Live]
    window: Callable[[Any, Sequence[Command], float, int, float], list[Live]]
    settings: Callable[[Any, Sequence[Command], float], dict[str, str]]
    #: its newest result stands for all of a window, also for what was shown before it
    stands: bool = False
    #: lowest and highest input that its source reaches
    reach: Callable[[Any], tuple[float, float]]
    #: how a virtual technician does a task of the family at it; none for the usual ways
    task: Callable[[Any, Any, Any, Any], list[tuple[str, dict[str, Any]]]] | None = None
    #: how the technician tells it what a step orders; none for the usual orders
    tell: Callable[[Any, str], None] | None = None


def _around_the_range(model: loop.LoopModel) -> tuple[float, float]:
    low, high = sorted((model.lower, model.upper))
    margin = 0.1 * (high - low)
    return low - margin, high + margin


#: by the kind that is written in a model; families join theirs
KINDS: dict[str, RigKind] = {
    "loop": RigKind(
        model=loop.LoopModel,
        live=loop.live,
        window=loop.window,
        settings=loop.settings_at,
        reach=_around_the_range,
    ),
    "block": RigKind(
        model=block.BlockModel,
        live=block.live,
        window=block.window,
        settings=block.settings_at,
        reach=lambda model: (-40.0, 660.0),
    ),
    "detector": RigKind(
        model=detector.DetectorModel,
        live=detector.live,
        window=detector.window,
        settings=detector.settings_at,
        reach=lambda model: (0.0, 100.0),
    ),
}


def kind_of(model: Model) -> RigKind:
    """Return the kind of a rig."""
    return KINDS[model.kind]


def model_of(payload: Mapping[str, Any]) -> Model:
    """Return the model that a stored text describes."""
    kind = KINDS.get(payload.get("kind", ""), KINDS["loop"])
    return decode(kind.model, payload, "model")


def live(model: Model, commands: Sequence[Command], t: float, seed: int) -> Live:
    """Return what a rig shows at ``t`` seconds."""
    return kind_of(model).live(model, commands, t, seed)


def window(
    model: Model, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[Live]:
    """Return the readings of the last ``seconds``, oldest first."""
    return kind_of(model).window(model, commands, t, seed, seconds)


def settings_at(model: Model, commands: Sequence[Command], t: float) -> dict[str, str]:
    """Return what a reader finds set in the device at ``t`` seconds."""
    return kind_of(model).settings(model, commands, t)


def range_of(model: Model) -> tuple[float, float]:
    """Return the lowest and highest input that the source of a rig reaches."""
    return kind_of(model).reach(model)

"""One door to all virtual rigs: which model it is, is written in it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from calibration.kernel.codec import decode
from calibration.simulate import block, detector, loop
from calibration.simulate.block import BlockModel
from calibration.simulate.commands import Command, Live
from calibration.simulate.detector import DetectorModel
from calibration.simulate.loop import LoopModel

Model = LoopModel | BlockModel | DetectorModel


def model_of(payload: Mapping[str, Any]) -> Model:
    """Return the model that a stored text describes."""
    if payload.get("kind") == "block":
        return decode(BlockModel, payload, "model")
    if payload.get("kind") == "detector":
        return decode(DetectorModel, payload, "model")
    return decode(LoopModel, payload, "model")


def live(model: Model, commands: Sequence[Command], t: float, seed: int) -> Live:
    """Return what a rig shows at ``t`` seconds."""
    if isinstance(model, BlockModel):
        return block.live(model, commands, t, seed)
    if isinstance(model, DetectorModel):
        return detector.live(model, commands, t, seed)
    return loop.live(model, commands, t, seed)


def window(
    model: Model, commands: Sequence[Command], t: float, seed: int, seconds: float
) -> list[Live]:
    """Return the readings of the last ``seconds``, oldest first."""
    if isinstance(model, BlockModel):
        return block.window(model, commands, t, seed, seconds)
    if isinstance(model, DetectorModel):
        return detector.window(model, commands, t, seed, seconds)
    return loop.window(model, commands, t, seed, seconds)


def settings_at(model: Model, commands: Sequence[Command], t: float) -> dict[str, str]:
    """Return what a reader finds set in the device at ``t`` seconds."""
    if isinstance(model, BlockModel):
        return block.settings_at(model, commands, t)
    if isinstance(model, DetectorModel):
        return detector.settings_at(model, commands, t)
    return loop.settings_at(model, commands, t)


def range_of(model: Model) -> tuple[float, float]:
    """Return the lowest and highest input that the source of a rig reaches."""
    if isinstance(model, BlockModel):
        return -40.0, 660.0
    if isinstance(model, DetectorModel):
        return 0.0, 100.0
    low, high = sorted((model.lower, model.upper))
    margin = 0.1 * (high - low)
    return low - margin, high + margin

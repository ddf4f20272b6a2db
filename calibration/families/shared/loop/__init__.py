"""The base of transmitters in a current loop: hops, trims, screws, five stations.

It registers no method; families that are adjusted so stand on it.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from calibration.engine.method.family import EventKind, Family, StepKind
from calibration.engine.method.run_kind import RunKind
from calibration.families.shared.loop import ask, progress, trims
from calibration.families.shared.loop.judge import LoopJudge
from calibration.families.shared.loop.rig import LoopRig
from calibration.families.shared.loop.run import LoopRun

#: One record for all of them: an event has one meaning, whoever registers it.
ADJUSTED = EventKind(
    content=trims.Adjusted,
    add=trims.add,
    admit=trims.admit,
    words=trims.in_words,
    sets="said",
    counted=("adjustment", "adjustments"),
)
ADJUST = StepKind(done=progress.done, sets=True, ends=trims.ENDS)


def family(*, runs: Mapping[str, RunKind] | None = None, **more: Any) -> Family:
    """Return a family that stands on the loop, with what is its own."""
    given: dict[str, Any] = {
        "events": {trims.KIND: ADJUSTED},
        "steps": {ask.KIND: ADJUST},
        "runs": {LoopRun.id: LoopRun(), **(runs or {})},
        "judge": LoopJudge(),
        "task": ask.task,
        "heading": ask.heading,
        "rig": LoopRig(),
    }
    return Family(**{**given, **more})

"""What runs and roles say besides, where an electrode goes into buffers."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.engine.method.method import RunSpec

NEAR, SIDE, THIRD = "buffer_near", "buffer_side", "buffer_third"


@dataclass(frozen=True, kw_only=True)
class BufferRun(RunSpec):
    """A run whose points are buffers."""

    #: roles of the kit, one a point
    buffers: tuple[str, ...] = ()
    #: step in which the temperature of its portions is written down
    poured: str = ""
    #: the analyzer takes each reading as a point of its calibration
    accepts: bool = False
    #: proof afterwards: the third buffer and the first again, else both
    proof: bool = False

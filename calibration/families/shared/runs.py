"""The runs of an instrument with one output: as found, and as left."""

from __future__ import annotations

from typing import Any

from calibration.engine.method.method import RunSpec


def found_run(**more: Any) -> RunSpec:
    """Return the as-found run of an instrument with one output."""
    given = {"title": "As found", **more}
    return RunSpec(id="as_found", role="found", again="base", before=True, **given)


def left_run(**more: Any) -> RunSpec:
    """Return the as-left run that proves what was adjusted after :func:`found_run`."""
    given = {"title": "As left", **more}
    return RunSpec(id="as_left", role="left", again="base", **given)


RUNS = (found_run(), left_run())

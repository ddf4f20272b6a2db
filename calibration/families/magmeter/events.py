"""What happens while a tester is plugged in: plugs go in and come out, lines are read."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.engine.files.device_file import FromFile
from calibration.kernel.codec import about, swept
from calibration.kernel.own import Own


@dataclass(frozen=True, kw_only=True)
class Plugged:
    """One plug, or all that are left, in its place or out of it."""

    step: str = about("step")
    plug: str = about("which plug; 'all' for all that are left")


@dataclass(frozen=True, kw_only=True)
class LinesRead:
    """Every line of the tester, by its short name."""

    step: str = about("step")
    kept: bool = about("a question about a slip was answered with: keep it", default=False)
    read_from: FromFile | None = about("file that the values were read from", default=None)
    own: Own = swept()

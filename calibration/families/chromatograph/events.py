"""What happens at a chromatograph: an injection with its result, a response that is stored."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.engine.files.device_file import FromFile
from calibration.kernel.codec import about, swept
from calibration.kernel.own import Own


@dataclass(frozen=True, kw_only=True)
class Injected:
    """One injection: by the short name of a component what it shows, and when it came.

    ``a`` what it shows [ppm], ``a_s`` its retention [s].
    """

    step: str = about("step")
    kept: bool = about("a question about a slip was answered with: keep it", default=False)
    read_from: FromFile | None = about("file that the values were read from", default=None)
    own: Own = swept()


@dataclass(frozen=True, kw_only=True)
class Stored:
    """The device took the mean of the accepted pair as its new response."""

    step: str = about("step")

"""What happens with a mixture: all components are read, and set, in one entry."""

from __future__ import annotations

from dataclasses import dataclass

from calibration.kernel.codec import about, swept
from calibration.kernel.own import Own


@dataclass(frozen=True, kw_only=True)
class Mixed:
    """All components in one gas, as read and, where it was set, as set.

    By the short name of the component: ``a`` what it showed, ``a_after`` what it shows after it
    was set. [unit of the component]
    """

    step: str = about("step")
    kept: bool = about("a question about a slip was answered with: keep it", default=False)
    own: Own = swept()

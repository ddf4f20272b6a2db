"""Gas detectors: bump check, zero, span, and when it is safe to put back."""

from calibration.detector import (  # noqa: F401
    adjusting,
    back_to_service,
    bump,
    naming,
    portable,
)

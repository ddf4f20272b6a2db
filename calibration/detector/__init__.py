"""Gas detectors: bump check, zero, span, and when it is safe to put back."""

from calibration.detector import adjusting, back_to_service, bump  # noqa: F401

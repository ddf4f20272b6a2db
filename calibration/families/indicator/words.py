"""What runs and steps of an indicator say besides."""

from __future__ import annotations

#: Steps in which zero and span are set, and in which the factor is read again.
SET_ZERO, SET_SPAN, FACTOR = "indicator_zero_set", "indicator_span_set", "factor_read"

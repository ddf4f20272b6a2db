"""Tests: the core, the server, and the real interface in a browser."""

from hypothesis import HealthCheck, settings

# A shared machine may stand still for seconds: examples are the same every time and are not timed.
settings.register_profile(
    "everywhere", deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("everywhere")

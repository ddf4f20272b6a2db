"""What a new instrument of this family begins with."""

from calibration.engine.method.template import current_loop, template

TEMPLATES = (
    template(
        "trace_oxygen",
        "Trace oxygen analyzer",
        "trace_oxygen",
        **current_loop("ppm", "0", "20", smart=True),
        loop_role="trip",
        tolerance={"combine": "greatest", "absolute": "0.3", "percent_of_reading": "5"},
        own={"sample_ppm": "2", "fitted_on": "", "response_percent": "100", "holds_minutes": "20"},
    ),
)

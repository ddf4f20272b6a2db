"""What a new instrument of this family begins with."""

from calibration.engine.method.template import current_loop, template

TEMPLATES = (
    template(
        "ph_loop",
        "pH loop",
        "ph_buffers",
        **current_loop("pH", "0", "14", smart=True),
        tolerance={"absolute": "0.1"},
        own={"buffer_set": "technical", "process_ph": "7", "process_c": "25", "fitted_on": ""},
        settings=[{"name": "buffer_set", "value": "technical", "label": "Buffer set"}],
    ),
)

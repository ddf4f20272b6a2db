"""What a new instrument of this family begins with."""

from calibration.engine.method.template import at_display, template

TEMPLATES = (
    template(
        "mixture",
        "Analyzer of several gases",
        "mixture_calibrate",
        **at_display("% vol", "50"),
        loop_role="indication",
        tolerance={"percent_of_span": "2"},
        own={
            "components": [
                {
                    "id": "a",
                    "gas": "carbon dioxide",
                    "label": "Carbon dioxide",
                    "unit": "% vol",
                    "upper": "50",
                },
                {
                    "id": "b",
                    "gas": "oxygen",
                    "label": "Oxygen",
                    "unit": "% vol",
                    "upper": "25",
                    "infrared": False,
                    "set_from": "20",
                },
            ]
        },
    ),
)

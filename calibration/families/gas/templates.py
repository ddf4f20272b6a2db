"""What a new instrument of this family begins with."""

from typing import Any

from calibration.engine.method.template import current_loop, template

LIMITS = {"combine": "greatest", "percent_of_span": "3", "percent_of_reading": "10"}


def _channel(id: str, gas: str, unit: str, upper: str, principle: str, **more: Any) -> Any:
    given = {"id": id, "gas": gas, "unit": unit, "range": upper, "principle": principle}
    return {**given, "usual_t90_s": "20", **more}


FLAMMABLE = ("methane", "%LEL", "100")
CO = ("carbon monoxide", "ppm", "300", "electrochemical")
DEMAND: dict[str, Any] = {"demand": True}
TEMPLATES = (
    template(
        "gas_catalytic",
        "Fixed detector, flammable gas, catalytic",
        "gas_bump",
        **current_loop("%LEL", "0", "100", smart=True),
        tolerance=LIMITS,
        own={
            "channels": [_channel("a", *FLAMMABLE, "catalytic", gas_value="50", alarm="20")],
        },
    ),
    template(
        "gas_infrared",
        "Fixed detector, flammable gas, infrared",
        "gas_infrared",
        **current_loop("%LEL", "0", "100", smart=True),
        tolerance=LIMITS,
        own={
            "channels": [_channel("a", *FLAMMABLE, "infrared", gas_value="50", alarm="20")],
        },
    ),
    template(
        "gas_toxic",
        "Fixed detector, toxic gas, electrochemical",
        "gas_zero_span",
        **current_loop("ppm", "0", "300", smart=True),
        tolerance=LIMITS,
        own={"channels": [_channel("a", *CO, gas_value="100", alarm="30")]},
    ),
    template(
        "gas_oxygen",
        "Fixed detector, oxygen",
        "gas_oxygen",
        **current_loop("% vol", "0", "25", smart=True),
        tolerance=LIMITS,
        own={"channels": [_channel("a", "oxygen", "% vol", "25", "oxygen")]},
    ),
    template(
        "gas_two",
        "Fixed detector with two channels",
        "gas_two_channel",
        **current_loop("%LEL", "0", "100", smart=True),
        tolerance=LIMITS,
        own={
            "channels": [
                _channel(
                    "a", *FLAMMABLE, "catalytic", gas_value="50", alarm="20", full_scale_v="5"
                ),
                _channel("b", *CO, gas_value="100", alarm="30", full_scale_v="5"),
            ],
        },
    ),
    template(
        "gas_portable",
        "Portable with four gases",
        "gas_portable",
        loop_role="indication",
        input_unit="%LEL",
        input_lower="0",
        input_upper="100",
        output_unit="gas",
        output_lower="0",
        output_upper="100",
        tolerance=LIMITS,
        own={
            "channels": [
                _channel("a", *FLAMMABLE, "infrared", gas_value="50", alarm="20", **DEMAND),
                _channel("b", *CO, gas_value="100", alarm="30", **DEMAND),
                _channel(
                    "c",
                    "hydrogen sulfide",
                    "ppm",
                    "100",
                    "electrochemical",
                    gas_value="25",
                    alarm="5",
                    **DEMAND,
                ),
                _channel("d", "oxygen", "% vol", "25", "oxygen", gas_value="18", **DEMAND),
            ],
        },
    ),
)

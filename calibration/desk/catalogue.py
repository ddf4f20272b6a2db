"""Every module that registers operations, and pictures last: importing this knows them all."""

from calibration import detector, gas  # noqa: F401
from calibration.analyzers import blank, chromatography, ph  # noqa: F401
from calibration.decisions import decision, reference, risk, uncertainty  # noqa: F401
from calibration.desk import drawings, tables  # noqa: F401
from calibration.detector import life  # noqa: F401
from calibration.measuring import (  # noqa: F401
    belt,
    electromagnetic,
    level,
    massflow,
    proving,
    weighing,
    weights,
)
from calibration.runs import adjustment, chain, points, run, screws, slips  # noqa: F401
from calibration.sensors import rtd, thermocouple  # noqa: F401
from calibration.signals import conversion, loop, response, stability, transfer  # noqa: F401

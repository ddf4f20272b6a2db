"""What tells causes apart that look alike: one more measurement, and where it is written."""

from __future__ import annotations

from calibration.families.shared.differential import Telling

TELLS = {
    t.id: t
    for t in (
        Telling(
            id="coil_c_checked",
            label="Temperature of the coil, measured at the sensor",
            unit="°C",
            tells="Measure the temperature at the sensor itself: copper that is warmer than "
            "written down explains it, shorted turns stay.",
        ),
        Telling(
            id="conductivity_now",
            label="Conductivity of the liquid now",
            unit="µS/cm",
            tells="Measure the liquid: the resistance between electrodes goes with 1/conductivity; "
            "a coating stays when the liquid is as usual.",
        ),
    )
}

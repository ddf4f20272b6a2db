"""Causes at an electromagnetic flow meter: names, what is done, what tells apart."""

from __future__ import annotations

from calibration.families.shared.apart import Telling

CAUSES = {
    "coil_shorted": "Turns of the coil shorted",
    "coil_warm": "Coil at another temperature than written down",
    "coil_wet": "Insulation of the coil",
    "magnet_weak": "Magnetic field weaker",
    "electrode_coated": "Electrodes coated",
    "liquid_conducts_less": "Liquid conducts otherwise than usual",
    "electrode_wet": "Insulation of the electrodes",
    "mag_output_off": "Current output",
    "mag_electronics": "Electronics",
    "wire_not_back": "A wire is not back where it belongs",
}
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
REMEDIES = {
    "coil_shorted": "The sensor is replaced: its field is weaker than the factor says.",
    "coil_warm": "Write the right temperature down, and run the test again.",
    "coil_wet": "Dry and seal the terminal box; if it stays low the sensor is replaced.",
    "magnet_weak": "The sensor is checked against a quantity; its factor is not changed for this.",
    "electrode_coated": "Clean the electrodes as the site's procedure says, then test again.",
    "liquid_conducts_less": "The liquid is another one: the line means nothing today; note it.",
    "electrode_wet": "Dry and seal terminals and cable, then test again.",
    "mag_output_off": "The output is trimmed as a job of its own; a verification changes nothing.",
    "mag_electronics": "The electronics are replaced, then tested again.",
    "wire_not_back": "Power off, compare the wires with the picture, then read it again.",
}
#: A verification sets nothing; these lie in the test.
TEST = ("coil_warm", "liquid_conducts_less", "electrode_coated", "coil_wet", "electrode_wet")

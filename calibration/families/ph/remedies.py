"""Causes at a pH electrode: what they are called, what is done, and what tells twins apart."""

from __future__ import annotations

CAUSES = {
    "coated_electrode": "Electrode coated",
    "aged_electrode": "Electrode aged",
    "wet_plug": "Wet plug or cable",
    "poisoned_reference": "Reference poisoned",
    "blocked_junction": "Junction blocked",
    "cracked_glass": "Glass cracked",
    "shorted_cable": "Short in plug or cable",
    "alkaline_buffer": "Alkaline buffer low",
    "temperature_sensor": "Temperature read wrong",
    "other_buffer_set": "Other buffer set counted",
    "offset_moved": "Offset moved",
    "slope_moved": "Slope moved",
    "buffers_exchanged": "The two buffers exchanged",
    "earth_loop": "Earth loop in the process",
    "grab_sample": "Grab sample not the process",
}
#: Which cause looks the same; of these pairs the first is the one that is asked about.
LIKE = {
    "cracked_glass": "shorted_cable",
    "aged_electrode": "wet_plug",
    "poisoned_reference": "blocked_junction",
    "earth_loop": "grab_sample",
}
#: What tells a pair apart, by its first.
TELLS = {
    "cracked_glass": "Pull the plug of the electrode and read the millivolts: still about 0 is a "
    "short in plug, cable or input; else the glass.",
    "aged_electrode": "Dry and clean the plug, and read the last buffer again: a wet plug comes "
    "back, an aged electrode does not.",
    "poisoned_reference": "Leave it in the buffer near 7 for ten minutes and read again: a blocked "
    "junction comes back, a poisoned reference stays or drifts on.",
    "alkaline_buffer": "Read a portion from a newly opened bottle: a low buffer comes back, an "
    "aged electrode does not.",
    "earth_loop": "Draw a second grab sample, keep it closed and read it at the temperature of the "
    "process: an earth loop stays, a poor sample does not.",
}
#: Field in which that measurement is written down, its label and its unit.
APART = {
    "cracked_glass": ("unplugged_mv", "Electrode unplugged", "mV"),
    "aged_electrode": ("dry_mv", "Plug dried, in pH {last} again", "mV"),
    "poisoned_reference": ("again_mv", "Buffer near 7 after ten minutes", "mV"),
    "alkaline_buffer": ("fresh_mv", "pH {last} from a newly opened bottle", "mV"),
    "earth_loop": ("second_grab", "Second grab sample", "pH"),
}
REMEDIES = {
    "coated_electrode": "Clean it: rinse, then the soak that the site allows. Then calibrate.",
    "aged_electrode": "Calibrate while the slope is within its limit; below it, replace it.",
    "wet_plug": "Dry the plug and its seal, look for where water comes in, read again.",
    "poisoned_reference": "Refill or replace the reference, or the electrode; then calibrate.",
    "blocked_junction": "Soak the junction as its manual says, let it stand in buffer, read again.",
    "cracked_glass": "Replace the electrode; look at what broke it.",
    "shorted_cable": "Repair plug or cable, then read again.",
    "alkaline_buffer": "Throw the bottle away and take a new one; the electrode may be sound.",
    "temperature_sensor": "Repair or replace the temperature sensor, or set the temperature by "
    "hand as the manual says; only then calibrate.",
    "other_buffer_set": "Program the set that is poured, or pour the set that is programmed; then "
    "calibrate. Tell who used the value since the last calibration.",
    "offset_moved": "Clean it and calibrate: offsets move a little with time.",
    "slope_moved": "Clean it and calibrate: it was calibrated with another answer than it has.",
    "buffers_exchanged": "Look at the labels: pour both again, rinse, and read each in its own. "
    "Nothing is condemned before.",
    "earth_loop": "Find the earth current: solution earth, second earth of the vessel, wet cable. "
    "Calibrating does not cure it.",
    "grab_sample": "Sample again, closed and at one temperature, before anything is changed.",
}
#: Causes that cleaning and calibrating cures.
CURED = ("coated_electrode", "aged_electrode", "offset_moved", "slope_moved", "other_buffer_set")
#: Causes that are no fault while the readings are within their limits.
MOVED = ("offset_moved", "slope_moved", "aged_electrode")
#: Causes that lie in the test: it is put right and repeated.
TEST = ("buffers_exchanged",)
#: Causes that lie in the process, or in what it is compared with: buffers do not show them.
IN_PROCESS = ("earth_loop", "grab_sample")
#: Causes for which the electrode is replaced.
SPENT = ("cracked_glass", "poisoned_reference")

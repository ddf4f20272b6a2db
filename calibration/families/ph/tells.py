"""What tells causes apart that look alike: one more measurement, and where it is written."""

from __future__ import annotations

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
#: Causes that are no fault while the readings are within their limits.
MOVED = ("offset_moved", "slope_moved", "aged_electrode")
#: Causes that lie in the process, or in what it is compared with: buffers do not show them.
IN_PROCESS = ("earth_loop", "grab_sample")
#: Causes for which the electrode is replaced.
SPENT = ("cracked_glass", "poisoned_reference")

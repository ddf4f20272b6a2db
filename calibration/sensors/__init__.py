"""Temperature sensors: platinum, thermocouples, their curves."""

"""Foundations: errors, numbers, units, coding, fits; nothing of the job."""

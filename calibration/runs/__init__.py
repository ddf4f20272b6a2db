"""Runs of readings: plan, errors, causes, adjusting, slips."""

"""Pressure transmitters that are adjusted as one."""

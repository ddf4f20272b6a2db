"""Limits and decisions: tolerance, references, uncertainty, risk."""

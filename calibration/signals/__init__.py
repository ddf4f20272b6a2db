"""Signals and loops: transfer, supply, response, steadiness."""

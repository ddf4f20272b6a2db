"""Liquid and gas analyzers: pH, chromatography."""

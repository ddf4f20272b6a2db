"""Verify Loop: the application around the core."""

#: What changed from one to the next says CHANGELOG.md.
VERSION = "1.0.0"

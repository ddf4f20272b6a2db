"""Verify Loop: the application around the core."""

import gc

# What is loaded at a start stays. To look through it for what can go, again and again, is a
# seventh of the start and three in a hundred of the work after it.
gc.set_threshold(50_000, 20, 50)

#: What changed from one to the next says CHANGELOG.md.
VERSION = "1.6.0"

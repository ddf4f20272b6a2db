"""Whether an entry may be added now."""

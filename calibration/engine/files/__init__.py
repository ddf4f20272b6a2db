"""Files that a device wrote, read into fields."""

"""SQLite as Django knows it, which goes on reading where the disk cannot be written to."""

"""Temperature: sensors in blocks, transmitters, whole loops."""

"""Flow by differential pressure."""

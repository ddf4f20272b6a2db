"""Level by displacer and by differential pressure."""

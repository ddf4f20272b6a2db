"""Level, flow, weighing, belts."""

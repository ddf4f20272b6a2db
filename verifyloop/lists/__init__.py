"""Lists in and out: instruments, kit and people as CSV and XLSX."""

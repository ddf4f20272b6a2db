"""Papers and photos beside instruments, kit and jobs."""

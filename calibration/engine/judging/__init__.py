"""What figures say, what is decided, how far a result holds."""

"""What a method, a family and its hooks are."""

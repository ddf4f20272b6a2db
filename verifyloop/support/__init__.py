"""Looking at the tables as they are, for support; nothing is changed past the product."""

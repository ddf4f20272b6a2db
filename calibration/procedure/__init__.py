"""A job is a list of events; what it means is a pure function over them."""

"""The sheets of a certificate: how its content is laid out on paper."""

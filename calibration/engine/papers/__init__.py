"""The certificate as plain data."""

"""Steps and parameters that several families share."""

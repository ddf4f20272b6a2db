"""Virtual instruments and sources: pure functions of model, stimulus history, time and seed."""

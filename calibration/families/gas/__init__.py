"""Gas detectors, fixed and portable."""

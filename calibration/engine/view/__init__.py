"""What a screen shows of a job; everything is worked out, nothing left to compute."""

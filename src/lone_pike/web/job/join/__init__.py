"""Join."""

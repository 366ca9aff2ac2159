"""Size."""

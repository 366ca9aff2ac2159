"""Measures taken from a photo, which belong to Measure."""

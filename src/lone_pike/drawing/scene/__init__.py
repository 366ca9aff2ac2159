"""The side view and everything that stands in it."""

"""Bikes: the list, and each bike with its chains."""

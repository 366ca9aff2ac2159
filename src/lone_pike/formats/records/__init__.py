"""Converts what the data file stores to values of the trade and back."""

"""Lone Pike: the right chain, worked out and explained at the stand."""

__version__ = "0.1.0"

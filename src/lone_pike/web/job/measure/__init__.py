"""Measure."""

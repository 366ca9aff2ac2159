"""Reads what people type as values, and writes values as texts for fields."""

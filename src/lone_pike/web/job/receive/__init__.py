"""Receive."""

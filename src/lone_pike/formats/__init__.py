"""Bytes and typed text to core models and back; no HTTP, no SQL."""

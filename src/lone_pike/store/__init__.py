"""The workshop's data file: SQLite through plain SQL; no HTTP, no arithmetic."""

"""The workshop's data file: SQLite with plain SQL; no HTTP, no arithmetic."""

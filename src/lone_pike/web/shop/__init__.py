"""The shop: its settings and backups."""

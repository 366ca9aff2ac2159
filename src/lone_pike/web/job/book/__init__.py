"""Book."""

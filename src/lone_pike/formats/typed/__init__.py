"""What people type, read as values, and values as they stand in a field."""

"""One chain: its wear, distance, place and end."""

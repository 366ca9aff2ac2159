"""A job: its frame, and a folder for each stage."""

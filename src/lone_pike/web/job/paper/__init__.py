"""What a job prints."""

"""Practice: questions about made-up bikes."""

"""The pages: read the request, call down, render."""

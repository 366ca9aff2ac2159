"""The routes, one module for each page."""

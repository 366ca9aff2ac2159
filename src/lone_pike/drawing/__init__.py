"""Core results to the geometry of the pictures, in mm, and their SVG templates; no HTTP."""

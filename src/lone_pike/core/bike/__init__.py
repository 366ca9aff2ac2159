"""The measured bike: its document, the bounds of each measure, its faults, and the numbers behind all of this."""

"""About the program, its limits, and what a tablet installs."""

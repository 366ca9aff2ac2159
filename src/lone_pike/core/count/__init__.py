"""Which counts are safe, which one is advised, and which schools say otherwise."""

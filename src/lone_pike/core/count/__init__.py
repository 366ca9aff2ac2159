"""Which counts are safe, which is advised, and which school says otherwise."""

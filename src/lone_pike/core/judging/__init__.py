"""Which counts are safe, which is advised, who says otherwise, and how sure all that is."""

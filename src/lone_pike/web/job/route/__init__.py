"""The route of a long chain, which belongs to Measure."""

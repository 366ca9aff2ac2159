"""How chains wear: what gauges read, and when a chain is to be replaced (model, section 9)."""

"""How a chain wears: what a gauge reads, and when it is to be replaced (model, section 9)."""

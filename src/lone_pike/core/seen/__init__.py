"""What is seen when a chain is proved: what the drawing predicts, and what the bike's measures learn from it."""

"""What is seen when a chain is proved: the predictions, and what the bike's measures learn from the observations."""

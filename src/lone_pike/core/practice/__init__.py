"""Practice: made-up bikes that are true to what shops see, and what can be asked of them (trade, sections 2 to 13)."""

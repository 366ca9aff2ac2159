"""Practice: made-up bikes like those that shops see, and questions about them (trade, sections 2 to 13)."""

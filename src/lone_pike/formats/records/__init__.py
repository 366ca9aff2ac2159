"""What the data file keeps, as values of the trade and back."""

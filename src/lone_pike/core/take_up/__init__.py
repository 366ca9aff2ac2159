"""What closes the length of the chain: parts that turn, and parts that stand."""

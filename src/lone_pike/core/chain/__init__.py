"""The chain: its path over the wheels, counts and pairs, joiners, and the cut."""

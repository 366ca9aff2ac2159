"""From a complaint to its cause: what can be computed for this bike, and what has to be checked by eye (trade, section
13)."""

"""From a complaint to its cause: what this bike computes, and what has to be looked at (trade, section 13)."""

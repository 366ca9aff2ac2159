"""The trade's rules and arithmetic; no interface code."""

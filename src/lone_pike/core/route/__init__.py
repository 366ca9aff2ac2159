"""The route of the chain: idlers, tubes, the places of the joiners, and threading."""

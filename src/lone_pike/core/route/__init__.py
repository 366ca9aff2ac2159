"""The way of the chain: idlers, tubes, where the joiners lie, and how it is threaded."""

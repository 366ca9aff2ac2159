"""Chains: the lists, what is due, what each limit costs."""

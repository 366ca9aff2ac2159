"""What a shop does, one function for each operation.

An operation opens one transaction, checks everything it depends on inside it, and returns the outcome or raises a
Refusal (a message, no HTTP). Pages, API, command, devices and the sample workshop write only through these functions.
"""

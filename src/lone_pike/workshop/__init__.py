"""What a shop does, one operation a function.

Each operation opens its one transaction, checks inside it all that it depends on, and returns what came of it or raises
a Refusal (a message, no HTTP). Pages, command, devices and the sample workshop call it; none of them writes otherwise.
"""

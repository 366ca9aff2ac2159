"""All English text: the one place where messages, quantities and terms of the trade become words, in the reader's
units."""

"""English: the one place where messages, quantities and the words of the trade become text, in the reader's units."""

"""The bin: pieces, labels, joiners."""

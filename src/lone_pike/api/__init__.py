"""The JSON API: as thin as the pages, on the same operations, with the same messages."""

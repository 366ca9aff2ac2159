"""Where the bike's parts stand: at rest, along a travel, with errors in the measures."""

"""Where the bike's parts are: at rest, along a travel, with errors in the measures."""

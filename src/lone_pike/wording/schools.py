"""How each sizing school is called on its flag, and how the shop page describes its rule."""

FLAGS = {
    "makers_sheet": "maker's sheet",
    "bare_wrap_1_pair": "+1 pair",
    "bare_wrap_2_pairs": "+2 pairs",
    "overlap_floor": "overlap",
    "formula": "formula",
    "cage_vertical": "cage plumb",
    "slack_test": "slack test",
    "least_tension": "first tension",
    "cage_clock": "cage clock",
    "sized_at_rest": "sized at rest",
    "by_cogs": "by cogs",
    "tight_and_quiet": "tight",
    "old_chain": "old chain",
    "arm_at_half": "arm half way",
}
RULES = {
    "window": "Safe at both ends, and nearest to {wanted} short of straight in big/big.",
    "bare_wrap_1_pair": "The bare wrap, up to where it joins, and a pair: the common rule.",
    "bare_wrap_2_pairs": "The same and another pair: for wide single-ring cassettes.",
    "formula": "Twice the chainstay, a quarter of ring and cog, and one inch: a desk estimate.",
    "cage_vertical": "Pulleys plumb in largest ring and smallest cog: short cages.",
    "slack_test": "The longest that stays off the guide pulley in small/small.",
    "least_tension": "The longest at which the cage still takes some tension in small/small.",
    "by_cogs": "The bare wrap and a pair up to 11 cogs, two pairs from 12 on.",
    "tight_and_quiet": "The shortest that goes round big/big, and a pair: little is left for a bent hanger.",
    "old_chain": "As many as the chain that came off, where it ran well.",
}
"""Each house rule in a sentence."""

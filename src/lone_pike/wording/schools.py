"""How each sizing school is called on its flag, and how the shop page describes its rule."""

FLAGS = {
    "makers_sheet": "maker's sheet",
    "bare_wrap_1_pair": "+1 pair",
    "bare_wrap_2_pairs": "+2 pairs",
    "overlap_floor": "overlap",
    "formula": "formula",
    "cage_vertical": "plumb",
    "slack_test": "slack test",
    "least_tension": "just pulls",
    "cage_clock": "cage clock",
    "sized_at_rest": "sized at rest",
    "by_cogs": "by cogs",
    "tight_and_quiet": "tight",
    "old_chain": "old chain",
    "arm_at_half": "arm half way",
}
RULES = {
    "window": "Safe at both ends, and nearest to {wanted} left before the cage is straight.",
    "bare_wrap_1_pair": "Bare wrap, rounded up, plus one pair: the common rule.",
    "bare_wrap_2_pairs": "Bare wrap, rounded up, plus two pairs: for wide single-ring cassettes.",
    "formula": "Twice the chainstay, a quarter of ring and cog, and one inch: a rough estimate.",
    "cage_vertical": "Pulleys plumb on largest ring and smallest cog: for short cages.",
    "slack_test": "The longest that stays off the guide pulley in small/small.",
    "least_tension": "The longest at which the cage still pulls a little in small/small.",
    "by_cogs": "Bare wrap plus one pair up to 11 cogs, plus two pairs from 12 on.",
    "tight_and_quiet": "The shortest that goes round big/big, plus one pair: little is left for a bent hanger.",
    "old_chain": "The same count as the old chain, if that ran well.",
}
"""Each house rule in a sentence."""

"""The name of each sizing school on its flag, the description of its rule on the shop page, and its sentences about a
bike."""

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

SCHOOL_SENTENCES = {
    "rule_and_meaning": "{rule}; {meaning}.",
    "sentence": "{clause}.",
    "bare_wrap_and": "Bare wrap {bare:.1}, rounds up to {joins_at}, plus {added:pairs}",
    "bare_wrap_and_extender": (
        "Bare wrap {bare:.1}, rounds up to {joins_at}, plus {added:pairs}, and {more:pairs} for the "
        "extender or wide cage"
    ),
    "by_number_of_cogs": "With {cogs}: the bare wrap, rounded up to {joins_at}, plus {added:pairs}",
    "tight_and_quiet": "Goes round big/big at {shortest}, plus {added:pairs}: quiet, with little to spare",
    "overlap_floor": "A minimum, not a size: the ends overlap by at least {overlap:pairs} at the bare wrap",
    "formula": "The formula gives {length:.1}, rounded up to {up_to:pairs}; it knows no cage",
    "pulleys_plumb": "The pulleys hang plumb in {gear} at {at:.1}",
    "longest_off_guide": (
        "The longest that stays off the guide pulley in small/small, with {air:.0} of clearance: less than a finger"
    ),
    "longest_off_guide_finger": (
        "The longest that stays off the guide pulley in small/small, with {air:.0} of clearance: a finger fits"
    ),
    "longest_in_tension": "The longest at which the cage still pulls a little in small/small",
    "sheet_total": "The maker's sheet says {total} in all",
    "sheet_total_joins": "The maker's sheet says {total} in all, rounds up to {count}",
    "sheet_adds": "The maker's sheet adds {added} to the bare wrap, which rounds up to {joins_at}",
    "sheet_adds_joins": "The maker's sheet adds {added} to the bare wrap, {joins_at}, rounds up to {count}",
    "old_and_gears": "{rule}. The old chain {serves}",
    "old_serves": "is right for these gears",
    "old_short": "is {by:pairs} too short for these gears",
    "old_long": "is {by:pairs} too long for these gears",
    "old_was_wrong": "The old chain did not run well, so its count is no guide",
    "old_parts_changed": "Do not copy it: {parts} changed since, and by how much is not known",
    "old_may_be_copied": "The old chain ran well and no part changed: copy it rivet for rivet",
    "teeth_more": "{change} more on {on}",
    "teeth_less": "{change} less on {on}",
    "teeth_ask": "{grown:and}: {asked:+.1}",
    "old_may_stay": "{told}, less than a pair, so {old} may stay",
    "old_and_more": "{told}, so {change:pairs} more than the {old} that ran well",
    "old_and_less": "{told}, so {change:pairs} less than the {old} that ran well",
    "same_at_rest": "Sized at rest it gives the same count: the chain path grows little",
    "more_at_rest": "Sized at rest it gives more: the chain path grows little",
    "short_at_rest": (
        "Sized at rest it would be {missing} short of {advised}; from {first:.0} of travel it is too short"
    ),
    "short_at_rest_yet_safe": "Sized at rest it would be {missing} short of {advised}; it is still safe",
}

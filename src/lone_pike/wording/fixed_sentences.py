"""What is said of fixed centres and sprung arms, by code."""

FIXED_SENTENCES: dict[str, str] = {
    "boom_serves": (
        "{count} serve the boom from {low:+.0 bare} to {high:+.0}; {move:.0} of boom ask for {asks:.1} of chain."
    ),
    "boom_not_served": "{count} are not safe at the rider's own boom; {move:.0} of boom ask for {asks:.1} of chain.",
    "keep_of_box": "Of the box keep {keep}, from rivet {start} on.",
    "keep_of_piece": "Of piece {place} keep {keep}, from rivet {start} on.",
    "cage_points_to": "In the largest gears the cage points to {clock}, nearest to half past four to five",
    "boom_all_served": "{count} serve the whole boom.",
    "boom_has_gaps": "Some settings of the boom have no safe count.",
    "boom_lender": "For a bike whose boom is moved often: {count} up to {end:+.0}; {pieces}.",
    "boom_piece": "from {start:+.0} a piece of {links} more with a second joiner, {count} in all",
    "boom_at": "the ring at {at:.0}",
    "ring_clear_all_the_way": "a ring that clears idlers and cog at every setting",
    "boom_overlaps": "Measure the boom's range and the idlers again.",
    "boom_take_ups": "a derailleur or a sprung arm",
    "hint_clock": "{how} In degrees, or as a clock hand: 4:30.",
    "hint_slot_to": (
        "Crank centre to axle centre, wheel right back; or + and the slot's length: +{length:bare}. In {unit_word}."
    ),
    "arm_absorbs": (
        "It takes up {more:.1} more chain and {less:.1} less: the axle may go {back:.0} back and {forward:.0} forward."
    ),
    "goes_round_nothing": "it is too short to go round ring and cog",
    "slot_too_short": "the axle would stand {missing:.1} ahead of the slot",
    "slot_too_long": "the axle would stand {missing:.1} behind the slot",
    "slot_holds": "the axle stands in its slot, {ahead:.1} from the front end and {behind:.1} from the rear end",
    "eccentric_too_short": "the crank would have to come {missing:.1} nearer than its eccentric lets it",
    "eccentric_too_long": "the crank would have to go {missing:.1} farther than its eccentric lets it",
    "eccentric_holds": (
        "the crank stands on its eccentric, {ahead:.1} from the nearest place and {behind:.1} from the farthest"
    ),
    "none_too_short": "the chain does not close: the wheels stand {missing:.2} too far apart",
    "none_too_long": "the run would hang: the wheels stand {missing:.2} too near for so little slack",
    "none_holds": "it closes, {ahead:.2} short of taut",
    "no_count_fits": "No count fits: {shorter} miss the front end by {ahead:.1}, {longer} the rear end by {behind:.1}.",
    "slot_swapped": "The slot's ends were told the other way round; read as {near:.1 bare} to {far:.1}.",
    "too_short_for_arm": "it is too short to go round through the arm",
    "arm_hangs": "the arm would hang in its rest",
    "arm_nearly_straight": "the arm is only {reserve:.0} short of straight",
    "arm_touches": "the chain would touch the arm's upper pulley",
    "arm_holds": "the arm is {reserve:.0} short of straight and {back:.0} off its rest",
    "arm_at_half": "Half of the arm's movement is at {at:.1}",
    "pivot_away_from_axle": "more than {low:.0} from the axle centre",
    "arm_on_cog": "Nearer than that, the upper pulley and the cog overlap.",
    "mend_another_cog": "a cog of {teeth}",
    "mend_another_ring": "a ring of {teeth}",
    "no_idlers": "no idlers",
    "slack_range": "two movements, least and most, up to {high}",
    "range_rises": "two figures, the lesser first",
    "search_take_ups": "take-up none or eccentric",
    "another_than": "another than {value:.0}",
    "place_from_axle": "two lengths from the axle centre, forward and up, each up to {high}",
}

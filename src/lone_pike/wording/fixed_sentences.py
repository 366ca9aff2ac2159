"""What is said of fixed centres and sprung arms, by code."""

FIXED_SENTENCES: dict[str, str] = {
    "boom_serves": (
        "{count} work with the boom from {low:+.0 bare} to {high:+.0}; {move:.0} of boom takes {asks:.1} of chain."
    ),
    "boom_not_served": (
        "{count} are not safe at the rider's own boom setting; {move:.0} of boom takes {asks:.1} of chain."
    ),
    "keep_of_box": "Keep {keep} of the box, from rivet {start} on.",
    "keep_of_piece": "Keep {keep} of piece {place}, from rivet {start} on.",
    "cage_points_to": "In the largest gears the cage points to {clock}, nearest to half past four to five",
    "boom_all_served": "{count} work for the whole boom.",
    "boom_has_gaps": "Some boom settings have no safe count.",
    "boom_lender": "For a bike whose boom is moved often: {count} up to {end:+.0}; {pieces}.",
    "boom_piece": "from {start:+.0} a piece of {links} more with a second joiner, {count} in all",
    "walk_setup_cage": "Shift to the smallest cog and smallest ring. Clutch off; lock the cage if it can be locked.",
    "walk_setup_arm": "Hold the arm forward, so that it cannot snap back.",
    "walk_setup_fixed": "Axle all the way forward, nuts loose.",
    "walk_pieces": "Join the pieces end to end on the bench first: {joints} of the joiners.",
    "walk_pins": (
        "Put a retaining pin through each chain end: a bare end runs back through a tube. Leave them in "
        "until it is joined."
    ),
    "walk_cog": "Round the cog from behind.",
    "walk_guide": "In front of the guide pulley.",
    "walk_guide_wrong": "Behind the guide pulley the chain has nothing to run on.",
    "walk_tab": "Inside the cage's tab.",
    "walk_tab_wrong": "Over the tab it shifts, but grinds, and cuts the cage.",
    "walk_tension": "Behind the tension pulley, then forward.",
    "walk_tension_wrong": "In front of the tension pulley it hangs slack.",
    "walk_idler": "{side:capital} the {idler}.",
    "walk_idler_wrong": "{other:capital} the {idler} it runs off, or rubs the other run.",
    "walk_tube": "Through the tube of the {run} run, straight, without a twist.",
    "walk_ring": "Up round the ring, from below.",
    "walk_front": "Through the front derailleur's cage.",
    "walk_front_wrong": "Outside its cage it never shifts, and rubs.",
    "walk_wide_narrow": "Outer links on the wide teeth, if there are any; through the chain guide, if there is one.",
    "walk_meet": "Both ends meet on the drive run. Two hooks of stiff wire hold them together.",
    "walk_meet_long": "Both ends meet on the drive run, clear of tubes and idlers. Two hooks hold them together.",
    "walk_turn": "Turn the chain by hand, forward and back, its whole length through the tubes: you will see a twist.",
    "try_right": "Cutting at {joint} leaves {left} and closes into {closes}. That is the one.",
    "try_short": "Cutting at {joint} leaves {left} and closes into {closes}: {off} too few.",
    "try_long": "Cutting at {joint} leaves {left} and closes into {closes}: {off} too many.",
    "try_ends": "Cutting at {joint} leaves {left}, {first} to {last}; a {joiner} won't fit there.",
    "try_trim": "Cutting at {joint} only bares the inner end at the start.",
    "cut_slipped": "Cut at rivet {joint} by mistake: {left} and {right} are left",
    "scale_silent": "No reading from the scale: switch it on, or type what it shows.",
    "scale_drifts": "The reading drifts: wait until it settles, then read again.",
    "weighed": "By weight {links:.1}, give or take {about:.1 bare}.",
    "weighed_agrees": "By weight {links:.1}, give or take {about:.1 bare}: that fits {held}.",
    "weighed_differs": "By weight {links:.1}, give or take {about:.1 bare}, but the box says {held}. Count again.",
    "joiner_lies": "between the {one} and the {other}",
    "joiner_in_tube": "in a tube: put the pieces in another order",
    "joiner_on_wheel": "on a wheel, with the chain as it stands",
    "boom_at": "the ring at {at:.0}",
    "ring_clear_all_the_way": "a ring that clears idlers and cog at every setting",
    "boom_overlaps": "Measure the boom's range and the idlers again.",
    "boom_take_ups": "a derailleur or a sprung arm",
    "hint_clock": "{how} In degrees, or as a clock hand: 4:30.",
    "hint_slot_to": (
        "Crank centre to axle centre, wheel right back; or + and the slot's length: +{length:bare}. In {unit_word}."
    ),
    "arm_absorbs": (
        "It takes up {more:.1} more chain and {less:.1} less: the axle can go {back:.0} back and {forward:.0} forward."
    ),
    "goes_round_nothing": "it is too short to go round ring and cog",
    "slot_too_short": "it is too short: the axle would be {missing:.1} ahead of the slot",
    "slot_too_long": "it is too long: the axle would be {missing:.1} behind the slot",
    "slot_holds": "the axle is in its slot, {ahead:.1} from the front end and {behind:.1} from the rear end",
    "eccentric_too_short": "it is {missing:.1} too short for the eccentric",
    "eccentric_too_long": "it is {missing:.1} too long for the eccentric",
    "eccentric_holds": (
        "the eccentric can take it: {ahead:.1} from its nearest and {behind:.1} from its farthest setting"
    ),
    "none_too_short": "it is {missing:.2} too short",
    "none_too_long": "it is {missing:.2} too long for so little slack",
    "none_holds": "it fits, {ahead:.2} from taut",
    "no_count_fits": "No count fits. {shorter}: {ahead:.1} too short. {longer}: {behind:.1} too long.",
    "slot_swapped": "The slot's ends were entered the wrong way round; used as {near:.1 bare} to {far:.1}.",
    "too_short_for_arm": "it is too short to go round through the arm",
    "arm_hangs": "the arm would hang against its stop",
    "arm_nearly_straight": "the arm would have only {reserve:.0} left before it is straight",
    "arm_touches": "the chain would touch the arm's upper pulley",
    "arm_holds": (
        "the arm can swing {reserve:.0} forward before it is straight and {back:.0} back before the "
        "chain hangs; about half way is best"
    ),
    "arm_at_half": "Half of the arm's movement is at {at:.1}",
    "pivot_away_from_axle": "more than {low:.0} from the axle centre",
    "arm_on_cog": "Nearer than that, the upper pulley and the cog overlap.",
    "mend_another_cog": "a cog of {teeth}",
    "mend_another_ring": "a ring of {teeth}",
    "no_idlers": "no idlers",
    "slack_range": "two movements, least and most, up to {high}",
    "range_rises": "two figures, the lesser first",
    "search_take_ups": "a fixed axle or an eccentric",
    "another_than": "another than {value:.0}",
    "place_from_axle": "two lengths from the axle centre, forward and up, each up to {high}",
}

"""Every sentence, by its code. A value stands in braces; behind a colon, how it is written there:

+ with its sign, .N with so many decimals, bare without its unit, pairs always in pairs; rows of values joined by
or, and, slash, or by commas.
"""

from lone_pike.wording.schools import RULES

MEANINGS = {
    "too_short_for_cage": "it is too short to go round big/big through the cage",
    "reserve_too_little": "big/big would keep only {reserve:.0} of the {wanted:.0} it needs",
    "hangs_loose": "in small/small it would hang loose",
    "touches_guide_pulley": "in small/small the chain would touch the guide pulley",
    "air_too_little": "in small/small it would keep only {air:.0} of the {wanted:.0} of air it needs",
    "keeps_both_ends": "big/big keeps {reserve:.0}, small/small {air:.0} of air",
    "axle_ahead_of_slot": "the axle would stand {missing:.1} ahead of the slot",
    "axle_behind_slot": "the axle would stand {missing:.1} behind the slot",
    "axle_in_slot": "the axle stands in its slot, {ahead:.1} from the front end and {behind:.1} from the rear end",
}
SCHOOLS = {
    "rule_and_meaning": "{rule}; {meaning}.",
    "sentence": "{clause}.",
    "bare_wrap_and": "Bare wrap {bare:.1}, joins at {joins_at}, plus {added:pairs}",
    "bare_wrap_and_extender": (
        "Bare wrap {bare:.1}, joins at {joins_at}, plus {added:pairs}, and {more:pairs} for the extender or wide cage"
    ),
    "overlap_floor": "A floor, not a size: the ends overlap by at least {overlap:pairs} at the bare wrap",
    "formula": "The desk formula gives {length:.1}, up to {up_to:pairs}; it knows no cage",
    "pulleys_plumb": "The pulleys hang plumb in {gear} at {at:.1}",
    "longest_off_guide": ("The longest that stays off the guide pulley in small/small, {air:.0} of air, not a finger"),
    "longest_off_guide_finger": (
        "The longest that stays off the guide pulley in small/small, {air:.0} of air, a finger fits"
    ),
    "longest_in_tension": "The longest at which the cage still takes some tension in small/small",
    "sheet_total": "The maker's sheet says {total} in all",
    "sheet_adds": "The maker's sheet adds {added} to the bare wrap, which joins at {joins_at}",
    "old_was_wrong": "The old chain was not right, so its count is no guide",
    "old_parts_changed": "Not to be copied: changed since are {parts}, by how much is not said",
    "old_may_be_copied": "The old chain ran well and no part changed, so it may be copied rivet for rivet",
    "teeth_more": "{change} more on {on}",
    "teeth_less": "{change} less on {on}",
    "teeth_ask": "{grown:and}: {asked:+.1}",
    "old_may_stay": "{told}, less than a pair, so {old} may stay",
    "old_and_more": "{told}, so {change:pairs} more than the {old} that ran well",
    "old_and_less": "{told}, so {change:pairs} less than the {old} that ran well",
    "same_at_rest": "Sized at rest it comes to the same: the wrap grows little",
    "more_at_rest": "Sized at rest it comes to more: the wrap grows little",
    "short_at_rest": (
        "Sized at rest it would be {missing} short of {advised}; from {first:.0} of travel it is too short"
    ),
    "short_at_rest_yet_safe": "Sized at rest it would be {missing} short of {advised}; it is still safe",
}
ANSWERS = {
    "gear": "{ring}/{cog}",
    "count_means": "At {count}, {meaning}.",
    "decided_elsewhere": "At {count}, {meaning}; the window takes {advised}.",
    "no_other_is_safe": "No other count is safe on this bike.",
    "safe_from": "Safe from {low:bare} to {high}; this one is nearest to {nearest}.",
    "nearest_to_reserve": "{wanted:.0} short of straight",
    "nearest_to_middle": "the middle of the slot",
    "windows_count": "The window's {count}: {sure}",
    "stands_for_any": "It stands for any chainstay near this one.",
    "stands_up_to": "It stands for chainstays up to {high:.1}.",
    "stands_from": "It stands for chainstays from {low:.1}.",
    "stands_from_to": "It stands for chainstays from {low:.1 bare} to {high:.1}.",
    "right_in_share": "With these doubts {count} stay right in {share} of bikes.",
    "right_in_share_else": "With these doubts {count} stay right in {share} of bikes, else {others}.",
    "nearly_always_right": "With these doubts {count} stay right in more than {share} of bikes.",
    "nearly_always_right_else": "With these doubts {count} stay right in more than {share} of bikes, else {others}.",
    "count_in_share": "{count} in {share}",
    "likely_and_matters": "{stays} The {measure} matters most: measure it again.",
    "cogs_sorted": "Cogs were out of order; read as {cogs}.",
    "joiner_speeds": "Chains for {cogs} are closed by a locking link, new each time.",
    "conflict_with_sheet": "The maker's sheet says {count}, but {meaning}. The window would take {advised}.",
    "conflict_with_rule": "The house rule says {count}, but {meaning}. The window would take {advised}.",
    "window_empty": "No count is safe at both ends; this is the shortest that is safe in big/big.",
    "window_empty_stay_out": (
        "No count is safe at both ends; this is the shortest that is safe in big/big. Stay out of {gears}."
    ),
    "box_short": "The box is {missing:both} short.",
    "rated_capacity": "Rated for {rated} of capacity, needed {needed:bare}.",
    "rated_largest_cog": "Rated for a {rated:bare} cog, fitted {fitted:bare}.",
    "over_rating_but_serves": (
        "More than it is rated for, though this bike's cage takes it up; its maker will not answer for it."
    ),
    "over_rating": "More than it is rated for, and more than it can take up here.",
    "within_rating_but_not_served": "Within what it is rated for, and yet more than it can take up on this bike.",
    "cage_class": "Cage taken as {cage}: {length:.0}, {either_way:.0} more or less.",
    "near_edge": "Measure the chainstay again: {edge:.1} off, and it is another count.",
    "mend": "What would mend it: {ways:or}.",
    "mend_cage": "a {cage} cage ({length:.0})",
    "mend_cog": "a largest cog of {cog}",
    "mend_ring": "a smallest ring of {ring}",
    "no_mend": "No cage class, and no change of one end of the gears, would serve all of them.",
}
ALLOWED = {
    "this_version": "1, the version of this file",
    "between": "{low:bare} to {high}",
    "between_or_class": "{low:bare} to {high}, or a class: short, medium, long",
    "letters_between": "{fewest:bare} to {most}",
    "one_of": "{keys:or}",
    "one_of_both": "{keys:or}, one of them",
    "true_or_false": "true or false",
    "an_object": "an object as the schema has it",
    "list_of": "{fewest:bare} to {most} of {low:bare} to {high}",
    "cog_list": "a list of up to {most:bare} cogs of {low:bare} to {high}, or a range with their number: 11-46 x 11",
    "just_so_many": "{most} of {low:bare} to {high}",
    "each_once": "each size once",
    "place_from_crank": "two lengths from the crank centre, forward and up, each up to {high}",
    "axle_place": "two lengths from the crank centre, forward and up, {nearest_axle:bare} to {high} away from it",
    "travel_rows": "{fewest:bare} to {most} of travel and chainstay, travels rising from rest to {high}, each once",
    "idler_rows": "up to {most:bare} idlers, each run listed front to back",
    "added_or_total": (
        "{low:bare} to {sheet_most_added} to add to the bare wrap, or a total of {sheet_least_total:bare} to {high}"
    ),
    "more_than": "more than {low:.0}",
    "less_than": "less than {high}",
    "at_least": "at least {low:.0}",
    "nothing_beside_axle": "nothing, beside the axle's own place",
    "first_row_at_rest": "a first row with no travel, the bike at rest",
    "travels_rise": "travels that rise from row to row",
    "chainstay_near_row": "a chainstay near that of the row before",
    "arm_that_rises": "an axle behind the pivot that can rise {travel} on an arm of {arm:.0}",
    "travel_below_chainstay": "a travel well below the chainstay",
    "rigid_frame": "a rigid frame, with a slot",
    "more_than_with_wheels": "more than {low:.0} with {ring}/{cog}",
    "more_than_all_the_way": "more than {low:.0} all the way",
    "more_than_from_crank": "more than {low:.0} from the crank centre",
    "more_than_with_pulleys": "more than {low:.0} with these pulleys",
    "side_that_touches": "a side that the taut chain touches",
    "ends_with_count": "{keys:or} with {loose:loose}",
    "without_this_key": "a bike without this key",
    "no_such_key": "no such key here",
    "drive_side_photo": "a photo of the drive side, the axle left of the crank",
    "a_photo": "a JPEG, PNG or WebP photo",
    "a_whole_photo": "a JPEG, PNG or WebP photo, whole",
    "up_to": "up to {most}",
    "px_each_way": "{least} or more each way",
    "megapixels": "up to {most} million px",
    "utf8": "UTF-8 text",
    "json": "JSON ({problem} at line {line}, column {column})",
    "json_schema": "JSON as the schema has it",
    "one_json_object": "one JSON object, the bike",
    "readable_file": "a readable file ({problem})",
    "data_file": "a data file of this workshop ({problem})",
    "schema_up_to": "schema up to {newest}",
    "loopback": "a loopback address such as 127.0.0.1",
    "free_port": "a free port ({problem})",
    "a_pressure": "a pressure",
    "derailleur_here": "derailleur",
}
READ = {
    "chainstay_at_travel": "{chainstay:.0} of chainstay at {travel} of travel",
    "px_end_to_end": "{length:.0} from end to end",
    "axle_ahead_of_crank": "the axle ahead of the crank",
    "size_px": "{width} x {height} px",
    "byte_at": "byte {byte} at {place}",
    "lists_without_end": "lists within lists without end",
    "empty_file": "an empty file",
    "no_such_picture": "a file that is no such picture",
    "broken_file": "a broken file ({problem})",
    "file_size": "{size}",
    "schema_number": "schema {number}",
    "end_of_file": "the end of the file",
}
HINTS = {
    "slot_ends": "The slot's rear end is farther from the crank than its front end.",
    "slot_is_rigid": "A slot is sized on a rigid frame.",
    "same_travel_again": "It is the same travel again.",
    "travel_falls": "It is less than the {before} before it.",
    "no_axle_jumps": "No axle jumps like that; measure this row again.",
    "stands_twice": "{size} stands there twice.",
    "height_within_chainstay": "The axle's height is part of the chainstay's length.",
    "rivet_never": "A rivet is never driven back in a chain for {cogs}: the plates are weakened.",
    "clip_link_never": "A spring clip is never used beside other cogs, and this chain is for {cogs}.",
    "measure_pivot_again": "Measure pivot and axle again.",
    "ring_and_cog_overlap": "Nearer than that, ring and cog overlap.",
    "would_overlap": "Ring and cog would overlap.",
    "idler_and_ring_overlap": "Nearer than that, idler and ring overlap.",
    "pulleys_overlap": "Nearer than that, the two pulleys overlap.",
    "idler_not_reached": (
        "The chain does not reach the {run} idler from that side: try {other}, or measure its place again."
    ),
    "count_box_again": "Count the box again.",
    "not_sized_yet": "This version does not size a bike with {what}.",
    "known_keys": "Known keys: {keys}.",
    "one_small_file": "A bike is one small file.",
    "later_version": "It is from a later version.",
    "other_addresses": "Other addresses need a passcode.",
    "try_another_port": "Try another with --port.",
    "choose_a_file": "No file came along. Choose a bike file, or start from nothing.",
    "slot_by_command": "This version sizes a slot by the command: lone-pike size.",
}
READING = {
    "read_as": "“{typed}” read as {value}",
    "read_as_count": "“{typed}” read as {value:both}",
    "teeth_sorted": "{typed} sorted to {sorted}",
    "cogs_spread": "{smallest}-{largest} spread over {count}; only the ends decide the count",
    "field_read": "{field}: {told}",
}
HISTORY = {
    "as_written": "{text}",
    "started": "",
    "fields_changed": "{changes}",
    "from_photo": "From the photo: {changes}",
    "changes_as_read": "{changes}. {read}",
    "field_changed": "{field} {before:bare} → {after}",
    "field_emptied": "{field} {before:bare} → –",
    "field_filled": "{field} – → {after}",
    "rows_changed": "{field} {before} → {after} rows, {new} new",
    "count_chosen": "Count chosen: {count}",
    "count_chosen_before": "Count chosen: {count}, before it was {before}",
    "note_changed": "{note} {before} → {after}",
    "steps_done": "{done} of {all} steps done",
    "photo_taken_in": "Photo taken in",
    "photo_replaced": "Photo replaced",
    "photo_marked": "Photo taken in and marked",
    "mark_set": "{mark:capital} marked",
    "scale_told": "Scale of the photo told",
    "setting_changed": "{setting}: {before:bare} → {after}",
    "with_merge": "{changes}. {merge}",
    "both_kept": "Meanwhile another tab changed {changes}; both are kept",
    "mine_stands": "Meanwhile another tab changed {changes}; yours stands now, undo brings theirs back",
    "nothing_undone": "Meanwhile another tab changed this: {last}. Nothing was undone; look again",
    "nothing_chosen": "Meanwhile another tab changed this: {last}. Nothing was kept; look again",
    "nothing_booked": "Meanwhile another tab changed this: {last}. Nothing was booked; look again",
    "shock_note": "Shock {before} before, {after} put back",
    "nothing": "–",
    "yes": "yes",
    "no": "no",
    "place": "{forward:bare}, {up}",
}
PAGES = {
    "push_rivet": "Push rivet {start} from the start, {end} from the far end.",
    "fit": "{count}: axle at {centre:.1}, {room:.1} of slot behind it.",
    "what_do_they_measure": "What do ring, cogs and chainstay measure?",
    "no_count_suits": "No count suits both ends. Which gears may it go without?",
    "box_too_short": "The box is {missing} short. Which other piece?",
    "came_with": "It came with {old}. Why {count} now?",
    "cage_by_class": "The cage is known by its class alone. Who measures it?",
    "rivet_counted_twice": "Is the rivet counted twice?",
    "is_it_fitted": "Is it fitted?",
    "is_it_count": "Is it {count}?",
    "count_stands": "the count stands whatever it is",
    "error_more": "{edge:.1} more and it is another pair",
    "error_less": "{edge:.1} less and it is another pair",
    "tooth_changes_nothing": "one tooth off changes nothing",
    "tooth_makes_one": "one tooth off makes it {count}",
    "tooth_makes_either": "one tooth off makes it {low:bare} or {high}",
    "cage_in_gear": "{ring} × {cog}: {state}, cage at {clock}, {reserve:.0} left",
    "no_rest_in_gear": "{ring} × {cog}: {state}, no rest for the cage",
    "flag_says": "{count}: {why}",
    "side_view_title": "Side view, {ring} × {cog}, {count}, {state}",
    "box_is_short_now": "The box is {missing:both} short. Measure again or take another box.",
    "gap_unlike": "no gap is like that; is it this gear?",
    "too_rough": "too rough to use; take a longer scale",
}

FIELD_HINTS = {
    "hint": "{how}",
    "hint_in_unit": "{how} In {unit_word}.",
    "hint_rings": "Count the teeth of every ring; with several, put a mark between: 24 34 44.",
    "hint_cogs": "Count every cog, or read it off: a list, or 11-46 with its number, or pick a common spacing.",
    "hint_speeds": "How many cogs: decides the chain's width, not its count.",
    "hint_chainstay": (
        "Centre of crank to centre of axle, along the stay, in {unit_word}; unsure: {exact}, or about {about}."
    ),
    "hint_class": (
        "Stands in where there is no caliper reading: short {short}, medium {medium}, long {long}."
        " The answer then says so."
    ),
    "hint_gap": (
        "Tooth tip of the guide pulley to tooth tip of the largest cog; {low:bare} to {high} where it is left empty."
    ),
    "hint_suspension": (
        "How the rear axle moves: about one pivot, along a table of travel and chainstay,"
        " or by the one growth figure that was measured."
    ),
    "hint_pivot": (
        "Pivot centre from the crank centre: forward, then up. A pivot {forward} ahead and {up} above is"
        " {forward:bare}, {up:bare}."
    ),
    "hint_idlers": (
        "A row each, front to back: drive over 16 {back:bare} {up:bare} is a drive idler of 16 teeth, chain over it,"
        " {behind} behind and {up} above the crank."
    ),
}

SENTENCES: dict[str, str] = {
    **FIELD_HINTS,
    **{f"rule_{rule}": does for rule, does in RULES.items()},
    **MEANINGS,
    **SCHOOLS,
    **ANSWERS,
    **ALLOWED,
    **READ,
    **HINTS,
    **READING,
    **HISTORY,
    **PAGES,
}

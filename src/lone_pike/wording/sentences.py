"""Every sentence, by its code.

A value stands in braces, with the way to write it after a colon: + with its sign, .N with N decimals, bare without its
unit, pairs always in pairs; rows of values are joined by or, and, or by commas.
"""

from lone_pike.wording.chains import CHAIN_SENTENCES
from lone_pike.wording.fixed_sentences import FIXED_SENTENCES
from lone_pike.wording.joiners import JOINER_SENTENCES
from lone_pike.wording.page_sentences import FIELD_HINTS, HISTORY, PAGES, READING
from lone_pike.wording.practice import PRACTICE_SENTENCES
from lone_pike.wording.proving import PROVE_REFUSALS, PROVE_REFUSED, PROVE_SENTENCES
from lone_pike.wording.receive import RECEIVE_SENTENCES, WEAR_SENTENCES
from lone_pike.wording.refusals import ACCESS_SENTENCES, REFUSALS, REFUSED_VALUES
from lone_pike.wording.schools import RULES, SCHOOL_SENTENCES

MEANINGS = {
    "too_short_for_cage": "it is too short to go round big/big through the cage",
    "reserve_too_little": (
        "the cage would have only {reserve:.0} of its {wanted:.0} of reserve left in big/big before it is straight"
    ),
    "reserve_on_edge": (
        "the cage would have {reserve:.1} of reserve left in big/big, on the edge of the {wanted:.0} it needs"
    ),
    "keeps_both_ends_on_edge": (
        "the cage has {reserve:.1} of reserve left in big/big, on the edge of the {wanted:.0} it needs, "
        "and {air:.0} of clearance in small/small"
    ),
    "hangs_loose": "in small/small it would hang loose",
    "touches_guide_pulley": "in small/small the chain would touch the guide pulley",
    "air_too_little": "in small/small it would have only {air:.0} of the {wanted:.0} of clearance it needs",
    "keeps_both_ends": (
        "the cage has {reserve:.0} left in big/big before it is straight (reserve) and {air:.0} of "
        "clearance in small/small"
    ),
}
ANSWERS = {
    "gear": "{ring}/{cog}",
    "count_means": "At {count}, {meaning}.",
    "decided_elsewhere": "At {count}, {meaning}; the window gives {advised}.",
    "no_other_is_safe": "No other count is safe on this bike.",
    "safe_from": "Safe from {low:bare} to {high}; this one is nearest to {nearest}.",
    "nearest_to_reserve": "{wanted:.0} of reserve",
    "nearest_to_middle": "the middle of what there is to move",
    "nearest_to_forward": "the front end",
    "nearest_to_kilometres": "the front end, which leaves most room for wear",
    "nearest_to_half": "half of the arm's movement",
    "windows_count": "The window's {count}: {sure}",
    "stands_for_any": "Right for any chainstay near this one.",
    "stands_up_to": "Right for chainstays up to {high:.1}.",
    "stands_from": "Right for chainstays from {low:.1}.",
    "stands_from_to": "Right for chainstays from {low:.1 bare} to {high:.1}.",
    "right_in_share": "With these spreads {count} stay right in {share} of bikes.",
    "right_in_share_else": "With these spreads {count} stay right in {share} of bikes, else {others}.",
    "nearly_always_right": "With these spreads {count} stay right in more than {share} of bikes.",
    "nearly_always_right_else": "With these spreads {count} stay right in more than {share} of bikes, else {others}.",
    "count_in_share": "{count} in {share}",
    "likely_and_matters": "{stays} The {measure} matters most: measure it again.",
    "cogs_sorted": "Cogs were out of order; used as {cogs}.",
    "joiner_speeds": "Chains for {cogs} close with a locking link, a new one each time.",
    "conflict_with_sheet": "The maker's sheet says {count}, but {meaning}. The window gives {advised}.",
    "conflict_with_rule": "The house rule says {count}, but {meaning}. The window gives {advised}.",
    "window_empty": "No count is safe at both ends; this is the shortest that is safe in big/big.",
    "window_empty_stay_out": (
        "No count is safe at both ends; this is the shortest that is safe in big/big. Do not use {gears}."
    ),
    "box_short": "The box is {missing:both} short.",
    "pieces_short": "The pieces are {missing:both} short.",
    "chain_short": "Box and pieces are {missing:both} short.",
    "rated_capacity": "Capacity: rated for {rated}, needs {needed:bare}.",
    "rated_largest_cog": "Largest cog: rated for {rated:bare}, fitted {fitted:bare}.",
    "over_rating_but_serves": "Outside the manufacturer's rating, though the cage takes it up on this bike.",
    "over_rating": "Outside the manufacturer's rating, and more than the cage takes up on this bike.",
    "within_rating_but_not_served": "Within the manufacturer's rating, but more than the cage takes up on this bike.",
    "turn_not_told": (
        "The table has no turn column: on a linkage that can change the count by {links} over {travel:.0}."
    ),
    "turns_against": (
        "The table turns the derailleur by {told:.0}, the chainstay turns by {chainstay:.0}: minus is "
        "the way a swing arm turns."
    ),
    "cage_class": "Cage taken as {cage}: {length:.0}, plus or minus {either_way:.0}.",
    "near_edge": "Measure the chainstay again: {edge:.1} more or less gives another count.",
    "on_edge": "Measure the chainstay again: it lies between two counts.",
    "mend": "What would make it work: {ways:or}.",
    "mend_cage_class": "a {cage} cage ({length:.0})",
    "mend_largest_cog": "a largest cog of {teeth}",
    "mend_smallest_ring": "a smallest ring of {teeth}",
    "route_not_reached": "The chain does not reach the {idler} from that side; try {other}.",
    "route_idle": "The {idler} does nothing: it turns the chain by {wrap:.1} at most.",
    "route_wound": "The chain wraps {wrap:.0} round the {idler}, more than half way: should it pass {other} it?",
    "route_in_the_way": "The {wheel} swings into the {idler}.",
    "route_crossed": "Figure of eight: the two runs cross. The pedals would turn the cassette backwards.",
    "route_rubbing": (
        "Near the {idler} the two runs pass {apart:.1} apart, and a chain is {high:.1} high: they rub "
        "unless they run side by side."
    ),
    "route_over_twice": "Near the {idler} the two runs cross and cross back: they rub unless they run side by side.",
    "route_through": "The run from the {run} passes through the {idler}.",
    "route_never_runs": "The chain cannot lie on both pulleys.",
    "route_misplaced": "The {idler} cannot stand there.",
    "tube_cut_front": "{run:capital} tube {place}: cut {cut:.0} off its front end, with the chain pinned.",
    "tube_cut_rear": "{run:capital} tube {place}: cut {cut:.0} off its rear end, with the chain pinned.",
    "tube_no_room": "{run:capital} tube {place} does not fit there: between its wheels there is no room for any of it.",
    "tube_narrow": "{run:capital} tube {place}: a bore of {bore:.1} catches chain and joiner; {least:.0} or more.",
    "no_mend_fixed": "No ring or cog near these fits either.",
    "no_mend": "No cage or cog swap makes these gears work.",
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
    "did_you_mean": "Did you mean {value}?",
    "how_many_cogs": "How many cogs?",
    "cog_list": "a list of up to {most:bare} cogs of {low:bare} to {high}, or a range with their number: 11-46 x 11",
    "just_so_many": "{most} of {low:bare} to {high}",
    "each_once": "each size once",
    "place_from_crank": "two lengths from the crank centre, forward and up, each up to {high}",
    "axle_place": "two lengths from the crank centre, forward and up, {nearest_axle:bare} to {high} away from it",
    "travel_rows": "{fewest:bare} to {most} of travel and chainstay, travels rising from rest to {high}, each once;"
    " in each or in none the turn, up to {most_turn} either way",
    "idler_rows": "up to {most:bare} idlers, each run listed front to back",
    "tube_rows": "up to {most:bare} tubes, each on a straight part of a run",
    "piece_rows": "up to {most:bare} pieces: links, the kind of the first one, and its wear in percent",
    "a_clock": "a clock's hand, hour and minute, such as 4:05",
    "seen_rows": "up to {most:bare} things that were seen",
    "one_of_sizes": "{sizes:or}",
    "part_of_run": "1 to {most}, counted from the ring",
    "tapes_that_meet": "two lengths that meet between crank and axle, {apart:.0} apart",
    "added_or_total": (
        "{low:bare} to {sheet_most_added} to add to the bare wrap, or a total of {sheet_least_total:bare} to {high}"
    ),
    "more_than": "more than {low:.0}",
    "at_least": "at least {low:.0}",
    "axle_behind_crank": "a place behind the crank centre, so less than 0 forward, and less far up or down than back",
    "axle_at_rest": "the measured chainstay at rest, {chainstay:.1}, within {within}",
    "sheet_that_closes": "added links, or a total of {low:bare} to {high} on this bike",
    "nothing_beside_axle": "nothing, beside the axle's own place",
    "first_row_at_rest": "a first row with no travel, the bike at rest",
    "travels_rise": "travels that rise from row to row",
    "turn_in_each_row": "a turn in each row, or in none",
    "chainstay_near_row": "a chainstay near that of the row before",
    "arm_that_rises": "an axle behind the pivot that can rise {travel} on an arm of {arm:.0}",
    "travel_below_chainstay": "a travel well below the chainstay",
    "rigid_frame": "a rigid frame, with a slot",
    "more_than_with_wheels": "more than {low:.0} with {ring}/{cog}",
    "more_than_all_the_way": "more than {low:.0} all the way",
    "idler_away_from": "more than {low:.0} from the centre of the {wheel}",
    "idler_behind": "up to {most} forward, no farther forward than the idler before it in its run",
    "idler_before_axle": "{least:.0} or more forward, ahead of the axle",
    "runs_apart": "a drive run that crosses no other in the side view",
    "a_bike_to_size": "measures that go together",
    "a_cage_that_runs": "a derailleur whose pulleys the chain lies on in every gear",
    "more_than_with_pulleys": "more than {low:.0} with these pulleys",
    "side_that_touches": "a side that the taut chain touches",
    "ends_with_count": "{keys:or} with {loose:loose}",
    "no_such_key": "no such key here",
    "drive_side_photo": "a photo of the drive side, the axle left of the crank",
    "a_new_one": "a new one",
    "a_label": "a label of this workshop: LP1, links, I or O, cogs, wear, code, with stars between",
    "a_photo": "a JPEG, PNG or WebP photo",
    "a_whole_photo": "a JPEG, PNG or WebP photo, whole",
    "up_to": "up to {most}",
    "px_at_most": "up to {most} each way",
    "px_each_way": "{least} or more each way",
    "megapixels": "up to {most} million px",
    "utf8": "UTF-8 text",
    "json": "JSON ({problem} at line {line}, column {column})",
    "json_schema": "JSON as the schema has it",
    "one_json_object": "one JSON object, the bike",
    "new_file": "a name that is not in use",
    "a_file_that_is_there": "a file that exists",
    "each_key_once": "each key once in an object",
    "digits_at_most": "numbers of up to {most} digits",
    "half_a_character": "half of a character",
    "a_photo_with_something_on_it": "a photo with something on it; this one is all one colour",
    "asks_for": "a bike that asks for {count}",
    "chain_up_to": "a chain of up to {most}",
    "a_file_not_served": "a data file that no server has open; stop the server first",
    "a_place_to_write": "a place where a whole copy can be written ({problem})",
    "an_archive": "an archive that lone-pike export wrote ({problem})",
    "a_folder": "a folder that exists and can be written to",
    "fleet_columns": "columns named as the bike file's keys, and one id",
    "see_columns": "lone-pike fleet --columns lists them.",
    "cells_as_columns": "as many cells as there are columns",
    "column_once": "each column once",
    "cluster_extra": "an address of a cluster, once lone-pike[cluster] is installed",
    "readable_file": "a readable file ({problem})",
    "data_file": "a data file of this workshop ({problem})",
    "schema_up_to": "schema up to {newest}",
    "loopback": "a loopback address such as 127.0.0.1",
    "free_port": "a free port ({problem})",
}
READ = {
    "chainstay_at_travel": "{chainstay:.0} of chainstay at {travel} of travel",
    "more_faults": "{more} more places that are wrong",
    "a_bike_it_breaks_on": "measures that this program cannot size",
    "runs_cross": "the run from the {first} crosses that from the {second}",
    "two_tapes": "{crank:.0} from the crank and {axle:.0} from the axle",
    "idler_of_run": "{run} idler {place}",
    "only_idler_of_run": "{run} idler",
    "the_stop": "{stop}",
    "px_end_to_end": "{length:.0} from end to end",
    "axle_ahead_of_crank": "the axle ahead of the crank",
    "size_px": "{width} x {height} px",
    "byte_at": "byte {byte} at {place}",
    "lists_without_end": "lists within lists without end",
    "empty_file": "an empty file",
    "no_such_picture": "a file that is not such a picture",
    "broken_file": "a broken file ({problem})",
    "file_size": "{size}",
    "schema_number": "schema {number}",
    "end_of_file": "the end of the file",
}
HINTS = {
    "chain_too_narrow": "A 3/32 in chain does not go over 1/8 in teeth; a 1/8 in chain runs on both.",
    "standing_is_rigid": "Without a cage nothing takes up what a suspension stretches.",
    "standing_has_no_idlers": "Without a cage the chain runs from ring to cog and back.",
    "same_travel_again": "It is the same travel again.",
    "travel_falls": "It is less than the {before} before it.",
    "turn_or_none": "Give a turn in every row, or in none.",
    "no_axle_jumps": "No axle jumps like that; measure this row again.",
    "no_arm_so_steep": "No swing arm takes its axle away from the crank that fast.",
    "measured_twice": "The two do not agree; measure the chainstay at rest again.",
    "axle_backward": "Forward is more than 0, so an axle behind the crank has a minus.",
    "sheet_other_bike": "No chain of that count goes round this bike; check that the sheet is for this bike.",
    "stands_twice": "{size} is there twice.",
    "height_within_chainstay": "The axle's height is part of the chainstay's length.",
    "measure_pivot_again": "Measure pivot and axle again.",
    "ring_and_cog_overlap": "Nearer than that, ring and cog overlap.",
    "would_overlap": "Ring and cog would overlap.",
    "idler_overlaps": "Nearer than that, this idler and the {wheel} overlap.",
    "idlers_front_to_back": "Each run's idlers are listed from the front to the back.",
    "nothing_overwritten": "A backup overwrites nothing.",
    "undo_the_last": "Undo the last change, or check the measures.",
    "tapes_too_short": "The two tapes end {by:.0} short of each other: measure both again.",
    "tape_too_long": "One tape reaches {by:.0} past the other's circle: measure both again.",
    "never_twice": "A locking link or a joining pin holds once: closed again it can part under load. Take a new one.",
    "idlers_between": "An idler stands between ring and axle.",
    "figure_of_eight": (
        "A figure of eight: the pedals would turn the cassette backwards. Look at each idler's run and side again."
    ),
    "cage_never_runs": (
        "In {gear} the chain cannot lie on both pulleys at any cage angle. Measure cage, gap and lean again."
    ),
    "pulleys_overlap": "Nearer than that, the two pulleys overlap.",
    "idler_not_reached": (
        "The chain does not reach the {run} idler from that side: try {other}, or measure its place again."
    ),
    "count_box_again": "Count the box again.",
    "known_keys": "Known keys: {keys}.",
    "one_small_file": "A bike is one small file.",
    "later_version": "It is from a later version.",
    "other_addresses": "Add --network: other addresses need a passcode.",
    "try_another_port": "Try another with --port.",
    "choose_a_file": "No file was sent. Choose a bike file, or start from a name.",
}


def _each_code_once(*parts: dict[str, str]) -> dict[str, str]:
    """The sentences of all parts. Raises: ValueError if two have the same code, because one of them would be lost."""
    whole = {code: text for part in parts for code, text in part.items()}
    if len(whole) < sum(map(len, parts)):
        raise ValueError("two sentences have one code")
    return whole


SENTENCES = _each_code_once(
    FIELD_HINTS,
    {f"rule_{rule}": does for rule, does in RULES.items()},
    MEANINGS,
    SCHOOL_SENTENCES,
    ANSWERS,
    ALLOWED,
    READ,
    HINTS,
    READING,
    HISTORY,
    PAGES,
    FIXED_SENTENCES,
    JOINER_SENTENCES,
    REFUSALS,
    REFUSED_VALUES,
    PROVE_SENTENCES,
    PROVE_REFUSALS,
    PROVE_REFUSED,
    RECEIVE_SENTENCES,
    WEAR_SENTENCES,
    CHAIN_SENTENCES,
    PRACTICE_SENTENCES,
    ACCESS_SENTENCES,
)

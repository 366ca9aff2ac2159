"""Sentences of the pages, by code: what was read, what changed, what a page asks and says. They are written like the
core's sentences."""

READING = {
    "read_as": "“{typed}” read as {value}",
    "read_as_count": "“{typed}” read as {value:both}",
    "teeth_sorted": "{typed} sorted to {sorted}",
    "cogs_spread": "{smallest}-{largest} spread over {count}; only the ends decide the count",
    "text_cut": "{field}: “{length} letters” won’t do here: up to {most}. The rest was left out",
    "field_read": "{field}: {told}",
}
HISTORY = {
    "as_written": "{text}",
    "started": "",
    "fields_changed": "{changes}",
    "from_photo": "From the photo: {changes}",
    "changes_as_read": "{changes}. {read}",
    "field_changed": "{field} {before:bare} → {after}",
    "field_emptied": "{field} emptied, it was {before}",
    "field_filled": "{field}: {after}",
    "rows_changed": "{field} {before} → {after} rows, {new} new",
    "count_chosen": "Count chosen: {count}",
    "count_chosen_before": "Count chosen: {count}, before it was {before}",
    "note_changed": "{note} {before} → {after}",
    "steps_done": "{done} of {all} steps done",
    "steps_threaded": "Threading steps done: {done}",
    "label_ends": "{first} to {last}",
    "piece_off": "Off {name}",
    "piece_came_in": "{how:capital}",
    "label_new": "{cogs}, not worn",
    "label_worn": "{cogs}, {worn} worn",
    "from_bin": "From the bin: {pieces:and}",
    "without_pieces": "{step}. Left out, because it was cut or is used elsewhere: {pieces:and}",
    "pieces_elsewhere": "Pieces of the bin that this job could not have were left out",
    "back_to": "Undone",
    "opened_again": "Opened again",
    "chain_came_off": "The chain came off. In the bin now: {pieces:and}",
    "photo_taken_in": "Photo taken in",
    "photo_replaced": "Photo replaced",
    "photo_marked": "Photo taken in and marked",
    "mark_set": "{mark:capital} marked",
    "scale_told": "Scale of the photo set",
    "idler_placed": "{idler:capital} placed at {forward:bare}, {up}",
    "idler_taped": "{idler:capital} placed by two tapes at {forward:bare}, {up}, either way {about:.0}",
    "idler_told": "{idler:capital}: chain {side}, {teeth}",
    "idler_added": "{idler:capital} added",
    "runs_swapped": "Drive and return run of the idlers swapped",
    "idler_removed": "{idler:capital} taken out",
    "setting_changed": "{setting}: {before:bare} → {after}",
    "with_merge": "{changes}. {merge}",
    "both_kept": "Another tab changed {changes} meanwhile; both are kept",
    "mine_stands": "Another tab changed {changes} meanwhile; yours is kept, undo brings theirs back",
    "nothing_undone": "Another tab changed this meanwhile: {last}. Nothing was undone; look again",
    "nothing_chosen": "Another tab changed this meanwhile: {last}. Nothing was kept; look again",
    "nothing_booked": "Another tab changed this meanwhile: {last}. Nothing was booked; look again",
    "shock_note": "Shock {before} before, {after} put back",
    "beside_the_file": "beside the data file",
    "nothing": "–",
    "yes": "yes",
    "no": "no",
    "place": "{forward:bare}, {up}",
}
PAGES = {
    "push_rivet": "Push rivet {start} from the start, {end} from the other end.",
    "piece_then_joiner": "{piece:capital}, then a joiner {lies}",
    "the_box": "the box",
    "the_piece": "piece {place}",
    "piece_turned": "{piece}, turned end for end",
    "makes_up_to": "Alone with a {joiner} up to {count}.",
    "adds_up_to": "With one {joiner} more it adds up to {count}.",
    "fit": "{count}: axle at {centre:.1}, {room:.1} of slot behind it.",
    "count_unsafe": "Not safe: at {count}, {meaning}. Advised: {advised}.",
    "measures_contradict": "One measure is wrong. Which one?",
    "route_is_wrong": "The chain cannot run like that. Which idler is on which run?",
    "what_do_they_measure": "What do ring, cogs and chainstay measure?",
    "no_count_suits": "No count suits every gear. Which gears can be left unused?",
    "which_other_piece": "{short} Which other piece?",
    "came_with": "It came with {old}. Why {count} now?",
    "cage_by_class": "The cage is only known by its class. Can you measure it?",
    "rivet_counted_twice": "Is the rivet counted twice?",
    "is_it_joined": "Is the joiner seated, on both sides?",
    "is_it_proved": "Is it proved, step by step?",
    "is_it_fitted": "Is it fitted?",
    "is_it_count": "Is it {count}?",
    "is_it_the_box": "This is an angle. Is {count:both} the box count?",
    "count_stands": "it does not change the count",
    "error_more": "{edge:.1} more changes the count",
    "error_less": "{edge:.1} less changes the count",
    "tooth_changes_nothing": "one tooth off changes nothing",
    "tooth_makes_one": "one tooth off makes it {count}",
    "tooth_makes_either": "one tooth off makes it {low:bare} or {high}",
    "cage_on_travel": (
        "{ring} × {cog}: {state}, cage at {rest} in the stand, {clock} at full travel, {reserve:.0} of reserve"
    ),
    "cage_in_gear": "{ring} × {cog}: {state}, cage at {clock}, {reserve:.0} of reserve",
    "no_rest_in_gear": "{ring} × {cog}: {state}, the cage does not come to rest",
    "flag_says": "{count}: {why}",
    "drafted_title": "Side view of the route as entered, with what is wrong",
    "typical_bike_title": "Side view of a typical bike, with letters where each length is measured",
    "side_view_title": "Side view, {ring} × {cog}, {count}, {state}",
    "idler_costs": "{by:.0} off changes the count by {links:.2}",
    "idler_turns": "the chain turns by {wrap:.0} there",
    "gap_unlike": "not a usual gap; is the chain on this cog?",
    "too_rough": "too rough to use; mark a longer scale",
}

FIELD_HINTS = {
    "hint": "{how}",
    "hint_in_unit": "{how} In {unit_word}.",
    "hint_rings": "Count the teeth of every ring. Several rings: put a space between, 24 34 44.",
    "hint_cogs": (
        "Count every cog, or read the cassette: a list, or 11-46 and the number of cogs, or pick a common one."
    ),
    "hint_speeds": "How many cogs: decides the chain's width, not its count.",
    "hint_chainstay": (
        "Centre of crank to centre of axle, along the stay, in {unit_word}. Not sure: type {exact}, or about {about}."
    ),
    "hint_class": "If you cannot measure the cage: short is {short}, medium {medium}, long {long}.",
    "hint_gap": "Tooth tip of the guide pulley to tooth tip of the largest cog; {low:bare} to {high} if left empty.",
    "hint_suspension": "Rear suspension stretches the run: one pivot, a table of chainstays, or one growth figure.",
    "hint_pulley": "{how} Distance and clock: {away:bare} at 5:00. Or forward, then up.",
    "hint_pivot": (
        "Pivot centre from the crank centre: forward, then up. A pivot {forward} ahead and {up} above is"
        " {forward:bare}, {up:bare}."
    ),
    "hint_pieces": (
        "One row a piece: its links, whether it begins with an inner or an outer link, and its wear in "
        "percent: 56 inner {worn:.1 bare}."
    ),
    "hint_idlers": (
        "One row an idler, front to back: drive over 16 {back:bare} {up:bare} is a drive idler of 16 "
        "teeth, chain over it, {behind} behind and {up} above the crank."
    ),
}

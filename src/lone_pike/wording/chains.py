"""The words of Chains: how each stands, what was done with it, what is due, what it costs."""

CHAIN_FIELDS = {
    "name": "name",
    "lube": "what it runs in",
    "riding": "what it is ridden in",
    "limit_percent": "its limit",
    "worn_percent": "wear when fitted",
    "week_km": "a usual week",
    "used_cogs": "cogs used most",
}
LUBES = {"oil": "oil", "wax": "wax"}
RIDINGS = {"dry": "dry roads", "wet": "all weathers", "dirt": "dirt and sand"}
ENDINGS = {"worn": "worn out", "broken": "broken", "apart": "taken apart"}
DUE_STATES = {"fine": "fine", "soon": "due soon", "due": "due", "past": "past its limit"}
SOURCES = {"total": "entered", "odometer": "odometer", "ride": "ride"}
COST_PARTS = {"chain": "Chain", "cassette": "Cassette", "rings": "Rings"}
CHAIN_LABELS = {
    "date": "Date",
    "km": "Distance",
    "odometer_km": "Odometer",
    "mm": "Reads",
    "new_mm": "New chain reads",
    "files": "Files",
    "ending": "Ending",
    "rides": "Rides",
    "bike": "Bike",
    "way": "Gauged with",
    "pitches": "Pitches",
    "sixteenths": "Sixteenths past",
    "passes": "Drops in",
    "stops": "Stays out",
    "limit_percent": "Limit",
    "worn_percent": "Wear when fitted",
    "week_km": "A usual week",
    "used_cogs": "Cogs used most",
    "speeds": "Cogs",
    "links": "Links",
}

CHAIN_HISTORY = {
    "chain_gauged": "Reading added: {way}",
    "chain_reading_out": "Reading taken out",
    "chain_gauged_at_job": "Readings added from a job",
    "chain_total": "{km} since it was fitted, on {day}",
    "odometer_read": "Odometer at {reads}: {added} more",
    "odometer_from_here": "Odometer at {reads}: counted from here",
    "odometer_set_back": "Odometer at {reads}, reset since: {added} more",
    "chain_rides": "Rides added: {rides}, {km}",
    "chain_told": "Changed: {fields:and}",
    "chain_put_on": "Put on {bike}",
    "chain_off_for": "Came off {bike} for {chain}",
    "chain_taken_off": "Taken off {bike}",
    "chain_ended_as": "Ended: {how}",
    "chain_replaced": "Replaced by a new chain",
    "chain_back": "On again: the booking was undone",
}
CHAIN_PAGES = {
    "on_bike": "On {bike} since {since}.",
    "hung_up": "Hung up: not on a bike.",
    "chain_over": "{how:capital}, {day}.",
    "due_in": "in {left}",
    "due_over": "{left} over",
    "due_band": "{early} to {late}",
    "due_met": "met at {early} to {late}",
    "due_about": "about {day}",
    "due_was": "since about {day}",
    "not_ridden": "not ridden, so no date",
    "like_all": (
        "Compared with chains in general. The shop has {chains} of its own with readings for {speeds}, ridden in "
        "{riding}; from {most} on, it goes by these."
    ),
    "like_own": "Compared with the shop’s own: {chains} chains for {speeds}, ridden in {riding}.",
    "leans_on": "With {readings} so far, it leans on these.",
    "pace_told": "{week} a week, as entered.",
    "pace_ridden": "{week} a week, as it was ridden.",
    "pace_assumed": "{week} a week, assumed: no distance is known yet. Add one below.",
    "km_estimated": "{known} known, {estimated} by its pace since.",
    "wear_of_limit": "{wear:.2} of {most}",
    "worst_place": "Worst place {worst:.2}, mean {mean:.2}: the worst counts, the mean forecasts.",
    "jump_likely": (
        "A new chain will jump on this cassette: a chain ran on it to {worn:.2}, {past:.2} past the limit. "
        "Replace the cassette, or look at the cogs {cogs:and} first."
    ),
    "jump_may": (
        "A new chain may jump on this cassette: a chain ran on it to {worn:.2}, {past:.2} past the limit. "
        "Look at the cogs {cogs:and} first."
    ),
    "jump_short": "New chain may jump: see Receive.",
    "jump_smallest": "These are the smallest.",
    "jump_used": "These are the smallest and those ridden most.",
    "next_due": "Next: {name}, about {day}.",
    "due_now": "{chains} due now.",
    "due_soon": "{chains} due soon.",
    "order_chains": "{amount} for {speeds}: {counts}.",
    "order_in_bin": "In the bin: {amount} for {speeds}.",
    "order_joiners": "{amount} × {joiner} for {speeds}; {there} in the bin.",
    "rides_added": "Rides added: {rides}, {km}.",
    "rides_twice": "Already here: {rides}.",
    "rides_counted": "Within a distance that was entered: {rides}.",
    "rides_outside": "On days when no known chain was on the bike: {rides}.",
    "in_file": "{file}: {told}",
    "track_gaps": "Gaps: {gaps}, counted straight across as {across}.",
    "track_jumps": "Jumps left out: {jumps}.",
    "track_without_time": "Tracks without a time, left out: {tracks}.",
    "costs_all": "Chains in general last {life} to 0.5%.",
    "costs_own": "The shop’s own {chains} chains with readings last {life} to 0.5%.",
    "cost_life": "A chain lasts {life}.",
    "cost_cassette": "A cassette lasts for {chains}.",
    "calendar_chain": "Chain due: {name}",
    "calendar_more": "{links}, {cogs}, {joiner}. Due between {early} and {late}.",
}
CHAIN_REFUSALS = {
    "no_such_chain": "There is no such chain.",
    "chain_used": "Its links are no longer where they were: cut, reserved or thrown away. Nothing was changed.",
    "nothing_to_undo": "There is nothing to undo.",
    "other_chain_changed": "{chain} was changed since. Undo that first.",
    "bike_has_chain": "{chain} is on that bike. Take it off first.",
    "chain_not_hung": "This chain is not hung up.",
    "chain_not_on": "This chain is on no bike.",
    "chain_never_on": "This chain was never on a bike.",
    "chain_ended": "This chain’s life has ended. Undo that first.",
}
CHAIN_ALLOWED = {
    "day_between": "a day from {first} to {last}",
    "day_from": "{day} or later",
    "undo_later": "A later distance is known; undo that first.",
    "km_from": "{known} or more",
    "km_is_whole_life": "Type the whole distance since it was fitted.",
    "a_day_on_a_bike": "a day on which it was on a bike",
    "rides_up_to": "up to {most} distances a chain",
    "files_up_to": "up to {most} files at once",
    "ride_files": "GPX tracks, a CSV with date and km, or a zip of these",
    "no_rides_in_it": "a file without rides",
    "ride_columns": "a first line that names the columns date and km",
    "in_row": "row {row}, {text}",
    "a_day_and_km": "a date such as 2026-03-02, and 0 to {most}",
    "a_gpx": "a GPX file without a document type",
    "a_gpx_point": "points with lat, lon and a time such as 2026-03-02T08:00:00Z",
    "a_whole_zip": "a whole zip without a passcode",
    "no_day_to_come": "rides up to today",
    "a_bike_by_name": "the name of a bike",
    "two_bikes": "{many} bikes have that name: open the bike, and put the chain on there",
}
CHAIN_SENTENCES = CHAIN_HISTORY | CHAIN_PAGES | CHAIN_REFUSALS | CHAIN_ALLOWED

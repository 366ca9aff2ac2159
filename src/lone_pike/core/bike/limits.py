"""Every number on which the rules of the trade are based: value, unit, reason, and whether a shop may change it.

This is the only place where such a number is written down. Documentation is made from it.
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class Limit:
    """One sourced number."""

    value: float
    unit: str
    why: str
    shop_may_change: bool = False


LIMITS: dict[str, Limit] = {
    "pitch": Limit(12.7, "mm", "Rivet to rivet: half an inch on every bicycle chain."),
    "pair": Limit(2, "links", "One inner and one outer link; what a closed chain grows or shrinks by."),
    "least_reserve": Limit(
        25, "deg", "The cage keeps this much short of straight in big/big; less tears derailleurs off.", True
    ),
    "wanted_reserve": Limit(45, "deg", "Reserve wanted in big/big: two bends left in the chain."),
    "many_cogs": Limit(12, "cogs", "From this number of cogs on, shops that go by cogs add two pairs."),
    "least_clearance": Limit(0, "mm", "In small/small the return run must not touch the guide pulley.", True),
    "plate_height": Limit(
        8.6, "mm", "Height of a chain's plates: how far apart the pitch lines of two touching runs are."
    ),
    "finger_air": Limit(
        15, "mm", "A finger of clearance under the guide pulley in small/small, as some workshops want."
    ),
    "tooth_tip": Limit(2.3, "mm", "A tooth tip stands this far outside the pitch circle."),
    "gap_growth": Limit(0.3, "mm/tooth", "The guide pulley stands this much farther off for each tooth fewer."),
    "lean": Limit(12, "deg", "Guide pulley forward of straight below the axle, if it was not measured."),
    "short_cage": Limit(56, "mm", "Pulley to pulley, short class, if no caliper was used."),
    "medium_cage": Limit(74, "mm", "Pulley to pulley, medium class, if no caliper was used."),
    "long_cage": Limit(92, "mm", "Pulley to pulley, long class, if no caliper was used."),
    "cage_class_doubt": Limit(8, "mm", "How far a real cage may be from its class: about half way to the next class."),
    "pulley": Limit(11, "teeth", "Guide and tension pulley, if nobody counted them."),
    "gap": Limit(5, "mm", "Tooth tip to tooth tip at the largest cog, if it was not measured."),
    "wide_gap": Limit(6, "mm", "The same with one ring and a wide cassette, where a little more is usual."),
    "wide_cog": Limit(42, "teeth", "A single-ring cassette from this largest cog up counts as wide."),
    "gap_close": Limit(2, "mm", "A gap this much smaller than the usual one lets the guide pulley run on the cogs."),
    "on_pulley_wrap": Limit(
        0.1, "deg", "Least wrap that still counts as on a pulley; keeps clear of where the wrap flips to a full turn."
    ),
    "rivet_cogs": Limit(8, "cogs", "A driven-back rivet is for chains up to this many cogs; narrower plates part."),
    "quick_link_cogs": Limit(9, "cogs", "Quick links that open by hand go up to this many cogs."),
    "clip_link_cogs": Limit(1, "cogs", "A spring clip is for a single cog: it would catch on another beside it."),
    "sheet_most_added": Limit(12, "links", "A maker's sheet that says this or less adds to the bare wrap."),
    "sheet_least_total": Limit(60, "links", "A maker's sheet that says this or more gives the total."),
    "nearest_axle": Limit(150, "mm", "No crank and rear axle of a bike with a derailleur are nearer to each other."),
    "steepest_stay": Limit(45, "deg", "No chainstay is steeper: the axle is behind the crank, not above it."),
    "same_chainstay": Limit(2, "mm", "A chainstay measured twice agrees within this."),
    "steepest_growth": Limit(2, "mm/mm", "No swing arm takes its axle away from the crank faster than it rises."),
    "most_turn": Limit(60, "deg", "No part of a rear end turns farther than this over its travel."),
    "linkage_turn": Limit(
        6, "deg", "The part with the derailleur may turn by this much more or less than the chainstay on a linkage."
    ),
    "linkage_links": Limit(0.3, "links", "How much that difference can change the count."),
    "linkage_travel": Limit(150, "mm", "The travel to which both apply; with less travel they are smaller."),
    "least_slack": Limit(10, "mm", "Mid-run movement of a chain without a cage, at least; less wears the bearings."),
    "most_slack": Limit(15, "mm", "Mid-run movement of a chain without a cage, at most; much more and it comes off."),
    "cage_clock": Limit(
        37.5, "deg", "Half past four to five on the clock: where a long bike's cage points in big/big."
    ),
    "least_idler_wrap": Limit(5, "deg", "An idler at which the chain turns by less than this does nothing."),
    "most_idler_wrap": Limit(
        180, "deg", "An idler round which the chain goes by more is probably listed with the wrong side."
    ),
    "tape": Limit(2, "mm", "How precisely a tape from a wheel's centre is read, with the bike in between."),
    "tape_line": Limit(
        0.1, "", "Two tapes nearly in one line say little about the height: this is the least that counts."
    ),
    "tube_clear": Limit(30, "mm", "A chain tube ends this far before an idler, so that the run enters straight.", True),
    "front_cage_clear": Limit(
        22.5, "mm", "From a tube's front end to the front derailleur at the shortest boom, more or less."
    ),
    "tube_inner": Limit(11, "mm", "A tube narrower than this catches a chain's plates and its joiner."),
    "least_arm": Limit(10, "deg", "A sprung arm keeps this much of its movement before it is straight."),
    "fewest_links": Limit(20, "links", "No chain that is counted, boxed or fitted has fewer links."),
    "most_links": Limit(600, "links", "No chain that is counted, boxed or fitted has more links."),
    "shortest_loop": Limit(60, "links", "No bicycle's chain is shorter; a piece that makes less only adds to others."),
    "scale": Limit(0.1, "g", "How precisely a workshop scale weighs."),
    "low_joiners": Limit(2, "", "With this number of joiners of a kind or fewer in the bin, order more."),
    "like_wear": Limit(0.25, "%", "Pieces of one chain differ by no more wear than this, or they jump at the joint."),
    "wheel_turn": Limit(2105, "mm", "What a wheel rolls in one turn, if nobody measured it."),
    "farthest_axle": Limit(2500, "mm", "No part of a bike is farther from its crank."),
    "photo_click": Limit(0.1, "% of its width", "How precisely a mark in a photo is set, with the loupe."),
    "photo_distance": Limit(1.5, "widths", "A side photo is taken from this many widths of the picture away."),
    "photo_depth": Limit(40, "mm", "What is marked in a photo is this near to the ring's plane."),
    "photo_depth_ruler": Limit(12, "mm", "The same for a ruler that is held in the chain's plane."),
    "photo_square": Limit(6, "deg", "How square to the bike a photo taken by hand is."),
    "photo_square_stand": Limit(3, "deg", "The same with the camera on a stand."),
    "photo_slant": Limit(
        0.3, "", "The share of a depth times an angle that counts, because both are seldom large at once."
    ),
    "photo_tilt": Limit(1.5, "deg", "How level a photo taken by hand is."),
    "photo_tilt_stand": Limit(1, "deg", "The same with the camera on a stand."),
    "clock_read": Limit(5, "deg", "How precisely a cage's clock hand is read by eye: ten minutes of the face."),
    "clearance_read": Limit(3, "mm", "How precisely the clearance at the guide pulley is read."),
    "slack_read": Limit(3, "mm", "How precisely the movement of a slack run is read."),
    "axle_read": Limit(0.7, "mm", "How precisely an axle's place in its slot is read."),
    "edge_deg": Limit(2, "deg", "How near to its edge a cage is said to be straight."),
    "edge_mm": Limit(2, "mm", "How near to its edge a chain is said to touch, or to hang."),
    "ruler_read": Limit(0.4, "mm", "How precisely a ruler or a tape along a chain is read."),
    "whole_read": Limit(1, "mm", "How precisely the length of a whole chain that hangs is read."),
    "caliper_read": Limit(0.06, "mm", "How precisely a caliper between rollers is read."),
    "roller_play": Limit(0.08, "%", "How much a drop-in gauge reads too high: the play of the rollers."),
    "roller_play_spread": Limit(0.04, "%", "The spread of that play."),
    "gauge_step": Limit(0.5, "%", "How much wear beyond its last step a drop-in gauge leaves open."),
    "wear_narrow": Limit(0.5, "%", "A narrow chain, for the most cogs, is replaced at this wear."),
    "wear_wide": Limit(0.75, "%", "A wider chain for several cogs is replaced at this wear."),
    "wear_single": Limit(1, "%", "A chain for a single cog is replaced at this wear."),
    "cogs_narrow": Limit(0.75, "%", "Past this wear of a narrow chain expect the cogs to be worn too."),
    "cogs_wide": Limit(1, "%", "The same for a wider chain."),
    "wear_new": Limit(0.02, "%", "How much longer than its pitch a new chain measures."),
    "wear_new_spread": Limit(0.02, "%", "The spread of that."),
    "wear_rate": Limit(0.5, "%", "The middle of all chains wears by this much"),
    "wear_rate_km": Limit(2800, "km", "over this distance."),
    "wear_rate_times": Limit(1.7, "", "One chain in three wears faster or slower than that by this factor or more."),
    "wear_told_spread": Limit(0.1, "%", "The spread of the wear that is entered for a used chain."),
    "wear_unknown": Limit(0.3, "%", "The wear of a used chain when it was first seen, if nobody knows it,"),
    "wear_unknown_spread": Limit(0.25, "%", "and its spread."),
    "own_chains": Limit(
        5, "", "From this number of the shop's own chains of a kind on, new ones are compared with these."
    ),
    "usual_week": Limit(60, "km", "Ridden in a week, assumed if nothing was entered and nothing is known."),
    "pace_days": Limit(14, "days", "A pace follows from what was ridden in this number of days or more."),
    "order_days": Limit(60, "days", "What is due within this number of days is ordered now, and is in the calendar."),
    "ride_gap": Limit(5, "km", "Two points of a track farther apart than this leave a gap between them."),
    "ride_speed": Limit(120, "km/h", "Nobody rides a bike this fast: the track jumps there."),
    "chains_half": Limit(4, "", "Assumed: chains that one cassette lasts for, each replaced at half a percent."),
    "chains_three_quarters": Limit(3, "", "Assumed: the same, each replaced at three quarters of a percent."),
    "chains_whole": Limit(1, "", "Assumed: the same, each replaced at one percent: the cassette goes with it."),
    "rings_half": Limit(8, "", "Assumed: chains that one set of rings lasts for, each replaced at half a percent."),
    "rings_three_quarters": Limit(6, "", "Assumed: the same, each replaced at three quarters of a percent."),
    "rings_whole": Limit(3, "", "Assumed: the same, each replaced at one percent."),
    "due_soon": Limit(300, "km", "A chain that may be due within this distance is due soon."),
    "another_chain": Limit(3, "%", "No chain is ridden to this much wear: it may be another chain."),
    "worn_share": Limit(0.16, "", "A chain is near a limit if this share of its possible wears is past it."),
    "near_reserve": Limit(1, "deg", "A reserve this near to its limit is on the edge: the length is no more exact."),
    "near_edge": Limit(2, "mm", "Closer than this to another count, the answer says: measure again."),
}


def limit(name: str) -> float:
    """The value of one limit.

    >>> limit("pitch")
    12.7
    """
    return LIMITS[name].value


INCH_MM = 25.4
PITCH_MM = limit("pitch")
MOST_IDLERS, MOST_TUBES, MOST_SEEN = 6, 6, 40
LEAST_LINKS, MOST_LINKS = int(limit("fewest_links")), int(limit("most_links"))
LINKS_PER_PAIR = int(limit("pair"))

"""Which fields stand on Measure, by what closes the length, and which are folded away."""

RARE = (
    "idlers",
    "boom.from_mm",
    "boom.to_mm",
    "boom.angle_deg",
    "sheet_links",
    "house_rule",
    "axle_height_mm",
    "take_up.guide_teeth",
    "take_up.tension_teeth",
    "take_up.lean_deg",
    "take_up.rest_deg",
    "chain.box_ends",
    "chain.offset_link",
    "take_up.max_cog",
    "take_up.capacity",
    "name",
)
"""Fields that are folded away until they are asked for, or wrong."""

FIELDS: dict[str, tuple[str, ...]] = {
    "slot": ("rings", "cogs", "take_up.min_mm", "take_up.max_mm", "take_up.taste"),
    "eccentric": ("rings", "cogs", "chainstay_mm", "take_up.radius_mm", "take_up.crank_deg", "take_up.taste"),
    "none": ("rings", "cogs", "chainstay_mm"),
    "arm": ("rings", "cogs", "chainstay_mm", "take_up.cage_mm", "take_up.class", "take_up.pivot_mm"),
}
SEARCH = ("search.rings", "search.cogs", "search.ratio", "search.slack_mm")
STANDING_RARE = (
    ("chain.width", "chain.teeth_width"),
    ("take_up.ring_runout_mm", "take_up.wheel_turn_mm"),
    ("axle_height_mm", "house_rule"),
    ("chain.box_ends", "name"),
)
ARM_RARE = (
    ("take_up.guide_teeth", "take_up.tension_teeth"),
    ("take_up.rest_deg", "sheet_links"),
    ("axle_height_mm", "house_rule"),
    ("chain.box_ends", "name"),
)
"""Fields under the drawing and folded away, by what closes the length, where that is no derailleur."""

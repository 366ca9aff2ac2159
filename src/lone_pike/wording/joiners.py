"""The words of each joiner: its name, how it is seated, and what to look for then."""

from dataclasses import dataclass


@dataclass(frozen=True)
class JoinerWords:
    """The name of a joiner, how it is seated, what both sides then look like, and why it is not for more cogs."""

    name: str
    seat: str
    look: str
    never: str = "This joiner is for chains of fewer cogs, and this chain is for {cogs}."


JOINER_WORDS = {
    "quick_link": JoinerWords(
        "quick link",
        "Its halves through both ends, one from each side; then pull them apart.",
        "Both pins at the ends of their slots, on both sides.",
    ),
    "locking_link": JoinerWords(
        "locking link",
        "A new one each time. On the drive run, rear brake on, press the pedal: a click; or pliers.",
        "Both pins at the ends of their slots, on both sides; its arrow points forward.",
    ),
    "joining_pin": JoinerWords(
        "joining pin",
        "Drive the new pin until it pops and stands flush; then snap its guide end off.",
        "Even on both sides, no guide end left. Outer plates lead; lettering outward.",
    ),
    "rivet": JoinerWords(
        "driven-back rivet",
        "Drive the same rivet back until it stands out alike on both sides. It is weak: look at it often.",
        "As much rivet on this side as on the other, and the link moves.",
        "A rivet is never driven back in a chain for {cogs}: the plates are weakened.",
    ),
    "clip_link": JoinerWords(
        "spring clip link",
        "Link in from behind, plate on, and the clip slid into both grooves until it snaps.",
        "The clip in both grooves, its closed end forward.",
        "A spring clip is never used beside other cogs, and this chain is for {cogs}.",
    ),
}
JOINER_NAMES = {kind: words.name for kind, words in JOINER_WORDS.items()} | {"offset_link": "offset link"}
JOINER_SENTENCES = {
    **{f"seat_{kind}": words.seat for kind, words in JOINER_WORDS.items()},
    **{f"look_{kind}": words.look for kind, words in JOINER_WORDS.items()},
    **{f"never_{kind}": words.never for kind, words in JOINER_WORDS.items()},
}

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
        "Put its halves through both ends, one from each side; then pull them apart.",
        "Both pins are at the ends of their slots, on both sides.",
    ),
    "locking_link": JoinerWords(
        "locking link",
        "Use a new one. Turn it to the drive run, hold the rear brake, press the pedal until it clicks; or use pliers.",
        "Both pins are at the ends of their slots, on both sides; its arrow points forward.",
    ),
    "joining_pin": JoinerWords(
        "joining pin",
        "Drive the new pin in until it pops and is flush; then snap its guide end off.",
        "The pin is even on both sides, with no guide end left. Outer plates lead; lettering outward.",
    ),
    "rivet": JoinerWords(
        "driven-back rivet",
        "Drive the same rivet back until it stands out equally on both sides. It is weak: check it often.",
        "The rivet stands out equally on both sides, and the link moves.",
        "A rivet is never driven back in a chain for {cogs}: the plates are weakened.",
    ),
    "clip_link": JoinerWords(
        "clip link",
        "Link in from behind, plate on, then slide the clip into both grooves until it snaps.",
        "The clip is in both grooves, its closed end forward.",
        "A spring clip is only for bikes with one cog, and this chain is for {cogs}.",
    ),
}
JOINER_NAMES = {kind: words.name for kind, words in JOINER_WORDS.items()} | {"offset_link": "offset link"}
JOINER_SENTENCES = {
    **{f"seat_{kind}": words.seat for kind, words in JOINER_WORDS.items()},
    **{f"look_{kind}": words.look for kind, words in JOINER_WORDS.items()},
    **{f"never_{kind}": words.never for kind, words in JOINER_WORDS.items()},
}

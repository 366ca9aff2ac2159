"""What the count does not know, in the mechanic's words: for the page, and for docs/limits.md, which is made of it."""

NOT_KNOWN: tuple[tuple[str, str], ...] = (
    (
        "Chain line",
        "Everything is computed in one plane. On the outer cogs the chain runs slantwise, which takes up to"
        " a tenth of a link; far less than a pair, and never less chain than computed.",
    ),
    (
        "How the cage comes to rest",
        "A clutch, a stiff pivot or a weak spring can hold the cage short of where the chain lets it go. The drawing"
        " shows where the chain would have it. Move the cage by hand before you judge the clearance.",
    ),
    (
        "The cage's own stops",
        "How far the derailleur lets its cage turn is only known if you enter where the empty cage rests. At the other"
        " end it may meet its stop, or the stay, before the chain is straight: watch it while you turn it.",
    ),
    (
        "The front derailleur and the guides",
        "A front derailleur's cage, a chain guide or a chainstay can be in the chain's way where the drawing is"
        " clear. So can a stand foot, a hanging cable, a mudguard.",
    ),
    (
        "Bending and play",
        "Frame, hanger and cage bend under load, bushings have play, and a bent hanger leans the cage inward. None of"
        " it is in the count; it is why the cage keeps 25 degrees short of straight.",
    ),
    (
        "Idlers and tubes",
        "Idlers are assumed to turn in the chain's plane. Where two runs pass near each other, one may go beside the"
        " other: look from above. How a tube bends and where it rubs is not in the count.",
    ),
    (
        "Linkages",
        "A table of travel only says how the part with the derailleur turns if its rows have that figure. Without it,"
        " the part is assumed to turn like the chainstay. On a linkage that can make a difference of a third of a link"
        " at the end of the travel; how likely the count stays right is shown with it.",
    ),
    (
        "Chain and teeth as they are",
        "The chain is assumed to be new and its pitch exact, and the wheels round and true. A worn chain is longer, and"
        " an oval ring takes more and less chain as it turns.",
    ),
    (
        "Weight and shake",
        "The slack run is drawn straight. In the stand it hangs a little, on the road it swings: leave a finger of"
        " clearance in small/small if the bike is ridden hard.",
    ),
    (
        "What the maker says",
        "The maker's sheet and instructions outrank the count. So do local rules, and a qualified workshop where a"
        " frame, a brake or an e-bike is at fault.",
    ),
)

"""The words of proving: each step, what the drawing predicts there, what was seen, and what comes of it."""

PROVING = {
    "clear_of_guide": "Small ring, smallest cog",
    "half_way": "Arm at half of its movement",
    "joiner_again": "Joiner, both sides",
    "second_largest": "Second largest cog",
    "largest": "Largest cog",
    "through_travel": "Through the travel",
    "guide_gap": "Guide pulley gap",
    "into_tubes": "Runs straight into the tubes",
    "no_twist": "No twist",
    "boom_ends": "Both ends of the boom",
    "tightest": "Tightest point found",
    "slack": "Slack set there",
    "stands": "Axle or crank in place",
    "nuts": "Nuts to the maker's torque",
    "wheel": "Wheel straight, tugs even",
    "brakes": "Brakes reach the rim",
    "again": "Slack felt all round",
    "pressures": "Air or spring put back",
    "torque": "Torque by the maker's instructions",
    "ride": "Ride",
}
SEEN_STATES = {"straight": "straight", "touching": "touching itself", "hangs": "hanging", "free": "clear"}
SEEN_BUTTONS = {
    "free": "Clear, some tension",
    "touching": "Chain touches",
    "hangs": "Chain hangs",
    "straight": "Cage is straight",
    "forward": "Still moves forward",
}
"""The labels of the buttons; "forward" is the free state at the taut end."""

PROVE_SENTENCES = {
    "prove_clear_of_guide": (
        "Shift to {gear}. Is the return run clear of the guide pulley, and does the cage hold some tension?"
    ),
    "prove_half_way": "Turn the crank a few times. The arm should stand near half of its movement.",
    "prove_joiner_again": "Look at the joiner from both sides. Flex each link near it. Turn the crank back one turn.",
    "prove_second_largest": (
        "Large ring. Shift up cog by cog and stop on the second largest, {gear}. The cage must still move forward."
    ),
    "prove_largest": "Now the largest cog, {gear}, slowly by hand. Two bends should be left in the chain.",
    "prove_through_travel": (
        "Air out or spring off. Stay in {gear} and lift the wheel through its whole travel. Stop at {travel}: there the"
        " chain is longest."
    ),
    "prove_guide_gap": "On {gear}, guide pulley to largest cog: about {gap:.0} apart, and never touching.",
    "prove_into_tubes": "Turn the crank. Each run enters its tube straight and touches no edge.",
    "prove_no_twist": "Turn the crank forward and back by hand. The chain runs flat everywhere, with no twist.",
    "prove_boom_ends": "Push the boom to {shortest}, then pull it to {longest}. Look at {gear} at both ends.",
    "prove_tightest": "Turn the crank slowly and find the tightest point of the turn. Measure there.",
    "prove_slack": "Push the lower run up and down at its middle: {least:.0 bare} to {most:.0} in all is right.",
    "prove_stands": "Measure where it stands now, with the slack as you set it.",
    "prove_nuts": "Tighten both nuts to the maker's torque, in turn.",
    "prove_wheel": "Look along the wheel: straight in the frame, both tugs equally far.",
    "prove_brakes": "Do the brakes still reach the rim with the wheel there?",
    "prove_again": "Turn the crank once more and feel the slack all the way round.",
    "prove_pressures": "Put the air or the spring back. Check the pressure against what you noted.",
    "prove_torque": "Check every bolt you loosened, with the torque from the maker's instructions.",
    "prove_ride": "Ride a short way and shift through every gear. Then look at the joiner once more.",
    "care_wipe_oil": "Wipe the outside with a damp cloth; the grease stays in. Wet oil for wet weather, dry for dry.",
    "care_wipe_wax": "Wipe the outside with a damp cloth; the grease stays in. Wax the outside.",
    "care_strip_oil": "Strip all grease, let it dry, oil every roller. Wet oil for wet weather, dry for dry.",
    "care_strip_wax": "Strip all grease, let it dry, wax it.",
    "step_done": "{step}: done",
    "step_again": "{step}: open again",
    "step_skipped": "{step}: skipped, “{word}”",
    "steps_proved": "Proving steps done: {done}",
    "proved_so_far": "Proved: {done} of {all} steps",
    "proof_seen": "{step}: {seen}",
    "booked_with": "{told}",
    "seen_at": "{step}: {seen} with {count}",
    "seen_clock": "hand at {clock}",
    "seen_state": "{state}",
    "seen_clearance": "{length:.0} clear",
    "seen_slack": "{length:.0} of slack",
    "seen_axle": "axle at {length:.1}",
    "pairs_changed": "Count changed from {before} to {count}",
    "from_seen": "From what was seen: {changes}",
    "nothing_kept": "Another tab changed this meanwhile: {last}. Nothing was kept; look again",
    "advice_add": "Stop here. Add {pairs:pairs}, then prove it again.",
    "advice_add_soon": "It goes round, but with too little left. Add {pairs:pairs}.",
    "advice_off": "Too long. Take off {pairs:pairs}, then look again.",
    "advice_none": "No count suits both ends of this bike. Leave small ring with smallest cog unused.",
    "waits_for": "Do this first: {step}.",
    "not_offered": "Not on this chain: the cage has no movement left. Change the count first.",
    "learned_count": "By what you saw, {count} stay right in {share} of bikes like this.",
    "learned_measure": "The {measure} is nearer {now:.1 bare} than {was:.1}.",
    "learned_nothing_much": "What you saw agrees with the measures.",
    "misfit": "{gear}, {seen}: this does not fit the bike as measured.",
    "misfit_explained": (
        "{gear}, {seen}: this does not fit the bike as measured. A {measure} of {value:.0} would explain it."
    ),
    "predicts_clock": "As drawn: {clock}",
    "predicts_air": "As drawn: {air:.0} clear",
    "predicts_left": "{left:.0} left before it is straight",
    "predicts_slack": "As drawn: {length:.0} of slack",
    "predicts_axle": "As drawn: axle at {length:.1}",
    "predicts_growth": "The chainstay grows by {growth:.0} on the way",
}
PROVE_REFUSALS = {
    "no_such_step": "This bike has no such step. Nothing was changed; look at Prove again.",
    "no_such_count": "No chain has that count. Nothing was changed.",
    "nothing_learned": "There is nothing to take over. Nothing was changed.",
}
PROVE_REFUSED = {
    "a_word_why": "a reason why it is skipped",
    "what_was_seen": "what was seen: press the rim, a button, or type a figure",
}

"""A slotted dropout as a take-up: the axle stands where the chain is taut (model, section 5)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.bike.measures import Errors, Measure, least_mm
from lone_pike.core.bike.parts import Slot
from lone_pike.core.bike.teeth import Array
from lone_pike.core.chain.counting import joinable_at_or_above, step_links
from lone_pike.core.chain.path import Path, trace
from lone_pike.core.messages import Message, Raw, mm
from lone_pike.core.motion.poses import COG, Gears, Poses, bare_stops
from lone_pike.core.take_up.protocol import Capacity, Fit, Gear, GearState, Margins, Trial, ground_of

SHOWN_BEYOND = 4
BEYOND_MM, SCANNED = 80.0, 33
"""How far past both ends of the slot the axle is followed, and at how many places."""

STEPS = 3


@dataclass(frozen=True)
class SlottedAxle:
    """A bike whose axle stands in a slot, in V variants of its wheels."""

    bike: Bike
    slot: Slot
    poses: Poses
    wheels: Gears

    schools = ("formula", "old_chain")
    always_measured: tuple[Measure, ...] = ()

    def loop(self, centre_mm: Array) -> Path:
        """The taut loop with the axle at distances (V, 1, K) from the crank, on its line through the slot."""
        x_mm, y_mm = self.bike.axle_xy_mm
        share = centre_mm / self.bike.chainstay_length_mm
        at = replace(self.poses, axle_x_mm=x_mm * share, axle_y_mm=y_mm * share)
        wheels = Gears(self.wheels.ring_teeth[:, :1], self.wheels.cog_teeth[:, :1])
        return trace(bare_stops(at, wheels))

    @property
    def bare_links(self) -> Array:
        """Length round ring and cog with the axle at the slot's front end, (V, 1, 1)."""
        return np.asarray(self.loop(np.full((1, 1, 1), self.slot.min_mm)).links)

    @cached_property
    def _scan(self) -> tuple[Array, Array]:
        """Places of the axle, (A,), and the loop's length there, (V, A); it grows from place to place."""
        nearest = max(self.slot.min_mm - BEYOND_MM, least_mm(self.bike, "chainstay_mm"))
        places = np.linspace(nearest, self.slot.max_mm + BEYOND_MM, SCANNED)
        return places, np.asarray(self.loop(places[None, None, :]).links)[:, 0, :]

    def centres_mm(self, counts: Sequence[int]) -> Array:
        """Where the axle stands for each count with the chain taut, mm from the crank, (V, K).

        Equation: L(C) = N, with L the loop of model, section 1 (model, section 5). Parameters: counts, links.
        Returns: mm, -inf or inf where that lies farther out than is followed. Range: one ring and one cog.
        Source: L grows with C, so it is read off its table and refined by its slope, within the table's step.
        """
        places, lengths = self._scan
        wanted = np.asarray(counts, dtype=float)
        rows = []
        for variant, row in enumerate(lengths):
            after = np.clip(np.searchsorted(row, wanted), 1, len(row) - 1)
            low, high = places[after - 1], places[after]
            centre = np.interp(wanted, row, places)
            for _ in range(STEPS):
                path = self._variant(variant).loop(centre[None, None, :])
                amiss = wanted - np.asarray(path.links).ravel()
                centre = np.clip(centre + amiss / self._links_per_mm(path), low, high)
            rows.append(np.where(wanted < row[0], -np.inf, np.where(wanted > row[-1], np.inf, centre)))
        return np.array(rows)

    def _variant(self, variant: int) -> "SlottedAxle":
        """One variant of the wheels alone."""
        rings, cogs = (
            teeth[min(variant, len(teeth) - 1)][None] for teeth in (self.wheels.ring_teeth, self.wheels.cog_teeth)
        )
        return replace(self, wheels=Gears(rings, cogs))

    def _links_per_mm(self, path: Path) -> Array:
        """How fast the loop grows as the axle goes back along its line: what the two runs at the cog pull along it."""
        x_mm, y_mm = self.bike.axle_xy_mm
        back = np.arctan2(y_mm, x_mm)
        pull = np.cos(np.asarray(path.heading_into(COG)) - back) - np.cos(np.asarray(path.heading_from(COG)) - back)
        return np.asarray(pull).ravel() / PITCH_MM

    def counts_in_reach(self) -> range:
        """Every joinable count from a few ahead of the slot to a few behind it."""
        step = step_links(self.bike.chain.offset_link)
        front, rear = (
            np.asarray(self.loop(np.full((1, 1, 1), end)).links).item() for end in (self.slot.min_mm, self.slot.max_mm)
        )
        first = joinable_at_or_above(front, step)
        last = max(first, joinable_at_or_above(rear, step))
        return range(first - SHOWN_BEYOND * step, last + SHOWN_BEYOND * step + 1, step)

    def margins(self, counts: Sequence[int], variants: int = 1) -> Margins:
        """Room ahead of the axle and behind it in the slot, mm; wanted is the slot's middle."""
        centres = np.broadcast_to(self.centres_mm(counts), (variants, len(counts)))
        length_mm = self.slot.max_mm - self.slot.min_mm
        return Margins(tuple(counts), centres - self.slot.min_mm, self.slot.max_mm - centres, length_mm / 2)

    def kept(self, count: int) -> tuple[float, float]:
        """Room ahead of the axle and behind it for one count, mm."""
        return self.margins([count]).kept(count)

    def meaning(self, count: int) -> Message:
        """Where a count puts the axle, in half a sentence."""
        ahead, behind = self.kept(count)
        if ahead < 0:
            return Message("axle_ahead_of_slot", missing=mm(min(-ahead, BEYOND_MM)))
        if behind < 0:
            return Message("axle_behind_slot", missing=mm(min(-behind, BEYOND_MM)))
        return Message("axle_in_slot", ahead=mm(ahead), behind=mm(behind))

    def wanted_message(self) -> Message:
        """The middle of the slot."""
        return Message("nearest_to_middle")

    def gears(self, count: int) -> tuple[Gear, ...]:
        """Its one gear with the chain at a count."""
        state = GearState(ground_of(*self.kept(count)))
        return (Gear(self.bike.largest_ring, self.bike.largest_cog, None, None, None, None, None, state, None, None),)

    def worst_poses(self, count: int) -> NDArray[np.int_]:  # noqa: ARG002 - the same whatever the count
        """The one pose of a rigid frame."""
        return np.zeros(1, dtype=np.int_)

    def fits(self) -> tuple[Fit, ...]:
        """The counts whose axle stands in the slot, with the room behind it and the wear that room absorbs.

        Equation: wear = L(rear end) / N - 1 (model, section 5).
        """
        counts = self.margins(self.counts_in_reach()).safe_counts
        rear_links = np.asarray(self.loop(np.full((1, 1, 1), self.slot.max_mm)).links).item()
        return tuple(
            Fit(
                links=count,
                offset_link=count % 2 == 1,
                centre_mm=centre,
                room_mm=self.slot.max_mm - centre,
                wear_room_percent=100 * (rear_links / count - 1),
            )
            for count, centre in zip(counts, self.centres_mm(counts).ravel().tolist() if counts else (), strict=True)
        )

    def capacity(self) -> Capacity:
        """One gear asks for no capacity."""
        return Capacity(0, None, self.bike.largest_cog, None)

    def counts_of_all(self) -> range:
        """The counts in reach: wheels do not change along a slot."""
        return self.counts_in_reach()

    def mends(self) -> Mapping[str, Sequence[Trial]]:
        """Nothing is tried."""
        return {}

    def with_larger_cogs(self) -> Sequence[Trial]:
        """Nothing is tried: another cog is another place of the axle."""
        return ()


def slotted_axle(bike: Bike, poses: Poses, gears: Gears, errors: Errors | None = None) -> SlottedAxle:  # noqa: ARG001
    """The bike's axle in its slot. Raises: InvalidInput where the frame is sprung, or ring and cog overlap."""
    slot = bike.take_up
    if not isinstance(slot, Slot):
        raise TypeError("what closes its length is no slot")
    if bike.suspension:
        raise invalid("suspension", Raw(bike.suspension.type), Message("rigid_frame"), Message("slot_is_rigid"))
    least = least_mm(bike, "chainstay_mm")
    if slot.min_mm <= least:
        raise invalid("take_up.min_mm", mm(slot.min_mm), Message("more_than", low=mm(least)), Message("would_overlap"))
    return SlottedAxle(bike, slot, poses, gears)

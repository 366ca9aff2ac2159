"""Rail, dials, strip and the other pictures beside the side view."""

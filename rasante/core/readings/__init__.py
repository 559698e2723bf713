"""Series of readings: whether they stand still, and how fast they move."""

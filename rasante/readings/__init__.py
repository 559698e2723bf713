"""Readings that arrive: their sources, the readings themselves, what they come to, and what they tell of."""

"""Liquids: density, volume correction, and what a gross volume is at standard temperature and in mass."""

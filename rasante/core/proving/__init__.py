"""Proving: what was applied at one station of a chain against what was read at a later one, and the dip."""

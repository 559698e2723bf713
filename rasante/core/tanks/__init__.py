"""Tanks: sections, heads, shapes, the tank file, the table and what is read from it."""

"""The board: what needs a person now."""

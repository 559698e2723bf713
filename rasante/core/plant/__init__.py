"""The outside world in time: what flows where, what instruments make of it, and what arrives over a link."""

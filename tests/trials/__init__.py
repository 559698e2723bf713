"""``make trials``: long trials of what must hold under hostile bodies, kills and colleagues. Minutes, not seconds.

Each runs against servers of its own with the demo data, prints what it did, and fails if anything did not hold.
"""

"""Finding faults: the case that is open at a tank, and those that are closed."""

"""Steps of a visit as data: how they are composed from facts, what must hold before each, and in which order."""

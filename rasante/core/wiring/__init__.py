"""Wiring: a sensor's circuit as data, the network that it makes, and everything that is read off it."""

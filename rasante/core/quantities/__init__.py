"""Quantities: units, typed text and how it is read, words, judgements, and the kinds of signal."""

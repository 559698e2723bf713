"""Rasante: survey, table, scale and prove level transmitters on bulk tanks."""

__version__ = "0.1.0"

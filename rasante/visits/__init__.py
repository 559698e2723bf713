"""Visits: led step by step, and handed over as a record."""

"""Seals over what never changes: a chain of hashes, so that even an edit of the database's file shows."""

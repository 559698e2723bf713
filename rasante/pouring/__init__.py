"""Volume tables by pouring: the run under way, and the records of those of which a table was issued."""

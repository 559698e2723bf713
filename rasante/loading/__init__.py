"""Loading vessels under pressure: the load that is planned, and the records of those that are closed."""

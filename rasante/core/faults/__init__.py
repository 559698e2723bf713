"""Find the fault: what may be wrong with an installation, which test tells most by the minute, and when to stop."""

"""Products: one registry of what tanks hold, its hazards and materials, densities, volume correction and mass."""

"""Who owns what: customers, places of sites, whose a tank is, and devices with where they were."""

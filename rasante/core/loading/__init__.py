"""Loading propane and butane: by weight and by the filling limit, and the point at which to stop."""

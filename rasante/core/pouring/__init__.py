"""Volume tables by pouring: the meter, the curve through the pours, what to pour next, and the shape it names."""

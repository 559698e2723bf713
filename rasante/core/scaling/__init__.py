"""Scaling: from liquid to signal and back, what is read at the line, and the proof that it is true."""

"""The outside devices that ship with the demo: a controller, units that send by themselves, and a yard to play in.

They are driven by one plant (`rasante.core.plant`) and speak the real protocols on loopback; whoever listens to them
cannot tell them from others.
"""

"""Bobbins: the gauge, the screw of the case, winding, and how far a bobbin goes."""

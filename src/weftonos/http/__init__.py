"""What a request passes before and after its route: the door, the pass, once and only once, units, refusals."""

"""A simulated machine with a small physics of its own and with faults, for practice and for proof.

It knows nothing of how the program estimates: pulls, friction and depth of the lock stand in :mod:`.laws`, what goes
wrong in :mod:`.faults`. ``docs/simulated-machine.md`` says how far each part can be trusted.
"""

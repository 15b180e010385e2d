"""Practice for hands and eyes on the simulated machine, apart from the log of any real one."""

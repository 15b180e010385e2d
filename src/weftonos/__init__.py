"""Weftonos: thread, needle, bobbin and balance for free-motion and longarm quilters."""

import os

__version__ = "0.1.0"

# Our matrices have a few hundred rows. Several threads on one of them wait for each other as soon as the machine has
# anything else to do: a page of readings then took 460 ms where one thread takes 35. Said before NumPy is loaded.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

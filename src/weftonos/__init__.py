"""Weftonos: thread, needle, bobbin and balance for free-motion and longarm quilters."""

__version__ = "0.1.0"

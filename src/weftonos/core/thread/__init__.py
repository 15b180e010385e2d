"""Threads: what a label says, how thick a thread is, how to treat it, its way through the machine."""

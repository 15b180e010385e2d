"""Torture: what the workshop survives, measured. `make torture` runs all of it; the tests run a short form of each."""

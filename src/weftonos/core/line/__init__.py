"""The thread line: a machine's state, station by station, from its set-up and its records."""

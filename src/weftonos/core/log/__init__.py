"""The logbook: every kind of record, how it reads, and what the thread line says."""

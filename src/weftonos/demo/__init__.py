"""The demo workshop: our own scenario, made by rule from a seed."""

"""Needles: sizes and points, how a thread lies in the groove, fitting, how long one lasts."""

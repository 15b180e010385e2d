"""A season, twice: simulated workshops quilt once by the trade's habits and once by what the program says."""

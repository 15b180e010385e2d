"""Plans of quilts: noted, answered, taken along, and what to buy for all of them."""

"""What every subject speaks in: errors, standing, advice, schools, forces, scales, stitches."""

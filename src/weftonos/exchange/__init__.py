"""Open formats in and out: CSV, SVG, PDF."""

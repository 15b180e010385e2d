"""Open formats in and out: CSV, XLSX, JSON lines in a zip, SVG, PDF."""

#: Bytes of a file that is given to be brought in, table or archive.
LARGEST_GIVEN = 64 * 2**20

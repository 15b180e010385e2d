"""The rules of the craft and their arithmetic, without interface, database, files, clock or randomness."""

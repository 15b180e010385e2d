"""The demo workshop: our own scenario, made by rule from a seed."""

#: The file that marks a folder as the demo's.
DEMO_MARK = "demo.txt"

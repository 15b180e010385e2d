"""What goes wrong: from what is seen to the cause, the cure, and upkeep."""

"""What is on a machine: the machine itself, the events that change the set-up, and their fold."""

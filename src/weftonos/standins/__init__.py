"""Stand-ins for devices: what ships with the app in the place of a gauge on a cable."""

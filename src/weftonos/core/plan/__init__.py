"""Planning a quilt: its passes, what they take, the order that costs least, evenings, cones, and what to buy."""

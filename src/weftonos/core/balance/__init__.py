"""The balance of top and bobbin as an estimate, where to start, and what worked."""

"""What the workshop's own records say, with honest doubt: rates, needle lives, comparisons, plans."""

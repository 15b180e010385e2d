"""What several stations know from the records: times, combinations that balanced, lives, what was evident."""

"""What was changed on a tank, by whom and when; and going back to what stood before."""

"""What is asked for in a window of its own."""

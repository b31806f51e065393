"""What our files for a browser have in common."""

"""Out of the screen: pages for printer and PDF, and pictures of a view."""

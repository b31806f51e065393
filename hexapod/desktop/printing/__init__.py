"""What goes on paper: drawings of each view, and the page that asks how."""

"""What is always there around the six legs: rail, top bar with the vitals and the find box, action bar."""

"""Staff: load against capacity, and levelling."""

"""Who does it, and can they: load against capacity, overloads, levelling."""

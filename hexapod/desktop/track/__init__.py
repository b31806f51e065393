"""The Track leg: how far the work is, told in a round."""

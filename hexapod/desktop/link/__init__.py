"""The leg Link: the network, planning back, and the pages of the side that belong to them."""

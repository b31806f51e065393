"""The Link leg: the network of tasks in layers, and the map on which a plan is drawn back from its dates."""

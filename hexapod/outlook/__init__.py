"""What may come: lengths as ranges, risks, and many rounds of a plan that draw them."""

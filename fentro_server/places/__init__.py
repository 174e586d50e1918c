"""Places of the product."""

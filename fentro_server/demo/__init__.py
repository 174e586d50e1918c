"""Demo of the product."""

"""From results to causes: signs, the table of causes, and the small engine that ranks them."""

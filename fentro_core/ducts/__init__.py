"""The ducts: what each piece loses, how the air divides, what was measured against it, and how to balance it."""

"""A simulated house with ducts that are not quite as drawn, and the technician who reads its registers."""

"""Night cooling: the house as two nodes, tonight's plan, its settings."""

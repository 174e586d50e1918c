"""From symptoms to causes and the next look. The engine only: causes and symptoms stand in their parts."""

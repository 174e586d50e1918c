"""A rooftop unit with outdoor-air dampers and its controller: physics first, deterministic by seed, many times real time."""

"""A simulated unit that dries: coil, blower, reheat, bypass, with hidden faults, and a technician who reads it."""

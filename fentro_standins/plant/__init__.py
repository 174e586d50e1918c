"""A whole air system as physics, with faults put in, and a technician who reads it with ordinary instruments."""

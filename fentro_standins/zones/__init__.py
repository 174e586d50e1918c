"""A simulated zone board, the ducts and dampers behind it, and a technician who walks from register to register."""

"""Units that dry, drawn by seed with hidden faults (`fentro_standins.rooftop` simulates them), and a technician who reads."""

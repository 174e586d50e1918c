"""What the equipment does: split, capacity, airflow; and how that compares."""

"""A ventilator's own air: fresh and extract flow."""

"""Airflow by every way there is."""

"""Simulated ventilators with their controls."""

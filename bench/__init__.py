"""Benchmarks: figures as ratios against a budget or a reference in the same run. Never tests."""

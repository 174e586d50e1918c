"""Functional tests of an economizer: a stimulus, and the response due within a time; generated from the configured sequence."""

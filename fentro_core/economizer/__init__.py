"""Cooling with outdoor air: when it may, how far it may be wrong, how the extra air leaves, what the sensors say."""

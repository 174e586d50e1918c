"""The report of a visit: for the customer first, then the whole record. Made from a snapshot alone, so it can be made again."""

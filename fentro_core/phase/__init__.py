"""One phase of a visit, as found or as left: readings, matches, run times, numbers, results."""

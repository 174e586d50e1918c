"""What is read with: quantities, accuracy, matching, steadiness, averages, the air at a station."""

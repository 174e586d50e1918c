"""Air that leaks into return ducts."""

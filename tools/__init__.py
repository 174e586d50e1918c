"""What bin/ uses: standard library only, so that it runs before anything is installed."""

"""The Python library: load an exercise, check submissions, replay steps. Its public names stand in `cubedrill`."""

"""Cube Drill: sets and checks exercises in moving, rotating and scaling objects."""

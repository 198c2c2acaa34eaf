"""Geometry: maps, solids, their surfaces, distances and symmetries; knows no scene."""

"""The heart: scenes, steps, replay, checks. Pure functions over values; no files, no web, no database."""

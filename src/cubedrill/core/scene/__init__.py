"""Scenes: objects in a tree, the spaces and points in them, and what is read from and measured in them."""

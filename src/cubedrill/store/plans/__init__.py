"""Plans and published versions."""

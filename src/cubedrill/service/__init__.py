"""What the product does, in the user's words."""

"""The web side: routers that translate, and one place each for sign-in, errors and headers."""

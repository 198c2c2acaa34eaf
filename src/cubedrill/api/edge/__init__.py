"""ASGI middleware that every request passes before it reaches a route, in the order of `cubedrill.api.app`."""

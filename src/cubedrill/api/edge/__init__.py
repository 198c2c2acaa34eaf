"""What every request passes before it comes to a route: plain ASGI, in the order of `cubedrill.api.app`."""

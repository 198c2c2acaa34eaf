"""Routers: auth, schema, one call to a service."""

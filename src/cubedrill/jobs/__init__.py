"""Work that outlives a request: the tasks, and the worker that runs them."""

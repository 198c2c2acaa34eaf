"""Making an exercise: the plan, checks proposed for it, whether it is sound, and what changed since its last one."""

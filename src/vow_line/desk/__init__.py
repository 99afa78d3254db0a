"""The window: what is seen and touched. It does no arithmetic; every value comes from the plan."""

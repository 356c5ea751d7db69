"""What can be done with devices, one module a task."""

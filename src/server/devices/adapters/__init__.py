"""What the doors read, and what readings say of the plan."""

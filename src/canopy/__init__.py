"""The rules of the job: light, targets, planning and cost. No server, no interface, no clock."""

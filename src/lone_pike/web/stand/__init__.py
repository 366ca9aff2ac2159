"""The Stand: the jobs in hand, and starting one."""

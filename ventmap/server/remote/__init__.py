"""Rounds with a remote tuner, who has the log and not the vehicle."""

"""The rules of the job: pure functions and frozen dataclasses. No Django, disk, clock or network."""

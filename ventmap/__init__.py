"""Vent Map: the job bench of people who fit and prove engine computers and fuel-system parts."""

from . import compiled

compiled.use()

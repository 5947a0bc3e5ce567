"""A pretend vehicle with its computer and a drum, at the far end of the link."""

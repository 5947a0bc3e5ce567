"""How the sample shop's maps are made."""

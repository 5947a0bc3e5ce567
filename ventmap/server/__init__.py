"""The web application: Django, one app per noun."""

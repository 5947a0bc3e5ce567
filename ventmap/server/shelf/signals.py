"""What the shelf announces."""

from django.dispatch import Signal

#: Before an item leaves (`item`): each receiver answers with the names of those that use it.
leaving = Signal()
#: Asked for use: each receiver answers with (kind, key) → ended jobs that the thing proved right in.
proving = Signal()

"""What the shelf announces."""

from django.dispatch import Signal

#: Before an item leaves (`item`): each receiver answers with the names of those that use it.
leaving = Signal()

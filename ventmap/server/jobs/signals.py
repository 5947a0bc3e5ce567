"""What the jobs announce; whoever builds on a job listens."""

from django.dispatch import Signal

#: Intake was saved: `job`, `changed` (names of fields), `by`.
intake_saved = Signal()
#: Another kit was taken: `job`, `by`.
kit_changed = Signal()

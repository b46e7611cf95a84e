"""What can be thrown away and fetched back: it lies in the bin for a while, and then goes."""

import math
from datetime import timedelta

from django.db import models
from django.utils import timezone

KEPT = timedelta(days=30)


class BinnableRows(models.QuerySet):
    def here(self):
        """Those that are not in the bin."""
        return self.filter(binned=None)

    def in_bin(self):
        """The last one thrown away first."""
        return self.exclude(binned=None).order_by("-binned")

    def over(self):
        """Those that have been in the bin for as long as it keeps things."""
        return self.filter(binned__lt=timezone.now() - KEPT)

    def throw_away(self) -> None:
        """Into the bin; what is there already stays as long as it would have."""
        self.filter(binned=None).update(binned=timezone.now())

    def fetch_back(self) -> None:
        """Out of the bin."""
        self.update(binned=None)


class Binnable(models.Model):
    """binned : when it was thrown away, None if it is not in the bin."""

    binned = models.DateTimeField(null=True, blank=True, default=None, db_index=True)
    objects = BinnableRows.as_manager()

    class Meta:
        abstract = True

    @property
    def days_left(self) -> int:
        """For so long the bin still keeps it."""
        left = self.binned + KEPT - timezone.now()
        return max(math.ceil(left / timedelta(days=1)), 0)

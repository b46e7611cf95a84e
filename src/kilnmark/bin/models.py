"""Files that nothing names any more, and since when."""

from django.db import models
from django.utils import timezone


class Unnamed(models.Model):
    hash = models.CharField(max_length=64, primary_key=True)
    since = models.DateTimeField(default=timezone.now)

    def __str__(self):
        return self.hash

"""Long work: rows that a worker takes for a while, tells the progress of, and ends.

The row is the truth. Whoever works on one holds a lease and moves its end on while it works: a row
whose lease has run out belongs to nobody, however its worker came to its end, and is taken again.
Several servers on one data folder therefore never take each other's work. Finishing twice is
harmless: only the holder of the lease ends a row.
"""

import os
import secrets
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor, wait
from datetime import timedelta

from django.db import OperationalError, models
from django.db.models import Q
from django.utils import timezone

from kilncore.errors import KilnError, Superseded
from kilnmark import database

WORKER = f"{os.getpid()}-{secrets.token_hex(4)}"
LEASE = timedelta(seconds=20)
LOOK_EVERY_SECONDS = 0.25
TELL_EVERY_SECONDS = 1.0
ENDINGS_TRIED = 150  # once a second, while the database or the disk is in the way
OUT_OF_MEMORY = (
    "There was not enough memory for this. Nothing was lost; ask for it again when "
    "less is going on."
)
BROKEN = "This failed. Nothing was lost; ask for it again."


class Stage(models.TextChoices):
    WAITING = "waiting", "Waiting"
    RUNNING = "running", "In the kiln"
    DONE = "done", "Fired"
    FAILED = "failed", "Failed"
    STOPPED = "stopped", "Stopped"


class Job(models.Model):
    AS_IT_WAS = ""  # what is said of what was not lost, when it fails

    stage = models.CharField(max_length=10, choices=Stage.choices, default=Stage.WAITING)
    progress = models.FloatField(default=0)
    message = models.CharField(max_length=300, blank=True)
    asked = models.DateTimeField(auto_now_add=True)
    worker = models.CharField(max_length=60, blank=True)
    lease_until = models.DateTimeField(null=True)

    class Meta:
        abstract = True
        ordering = ["-asked"]

    @property
    def ended(self) -> bool:
        return self.stage not in (Stage.WAITING, Stage.RUNNING)

    @classmethod
    def stop(cls, pk) -> None:
        cls.objects.filter(pk=pk, stage__in=[Stage.WAITING, Stage.RUNNING]).update(
            stage=Stage.STOPPED
        )

    @classmethod
    def next_waiting(cls):
        """The oldest that waits, or that nobody holds any more, taken; None if there is none."""
        now = timezone.now()
        over = Q(lease_until__lt=now) | Q(lease_until__gt=now + 2 * LEASE)  # the clock was set back
        nobodys = over | Q(lease_until=None)
        free = (
            cls.objects.filter(Q(stage=Stage.WAITING) | Q(nobodys, stage=Stage.RUNNING))
            .order_by("asked")
            .first()
        )
        if free is None:
            return None
        same = cls.objects.filter(pk=free.pk, stage=free.stage, worker=free.worker)
        taken = same.update(stage=Stage.RUNNING, worker=WORKER, lease_until=now + LEASE, progress=0)
        return cls.objects.get(pk=free.pk) if taken else None

    def held(self):
        """The row, as long as this worker holds it."""
        return type(self).objects.filter(pk=self.pk, stage=Stage.RUNNING, worker=self.worker)

    def work(self, make: Callable, done: Callable) -> None:
        """make(progress, cancelled) in a thread beside, while this one moves the lease on and
        listens for a stop. done : what was made -> the columns that the row ends with. It ends as
        done, failed or stopped, never half-way."""
        try:
            ending = {"stage": Stage.DONE, "progress": 1, "message": "", **done(self._made(make))}
        except Superseded:
            return
        except KilnError as error:
            ending = {
                "stage": Stage.FAILED,
                "message": f"{error.message} {self.AS_IT_WAS}".strip()[:300],
            }
        except MemoryError:
            ending = {"stage": Stage.FAILED, "message": OUT_OF_MEMORY}
        except Exception as error:
            passing = database.trouble(error)
            ending = {"stage": Stage.FAILED, "message": passing[0] if passing else BROKEN}
            if not passing:
                self._end(ending)
                raise
        self._end(ending)

    def _made(self, make: Callable):
        stopped, shares, told = threading.Event(), [0.0], 0.0
        with ThreadPoolExecutor(1, thread_name_prefix="job") as beside:
            task = beside.submit(make, shares.append, stopped.is_set)
            while not task.done():
                wait([task], timeout=LOOK_EVERY_SECONDS)
                try:
                    if time.monotonic() - told > TELL_EVERY_SECONDS:
                        told = time.monotonic()
                        here = self.held().update(
                            progress=max(shares), lease_until=timezone.now() + LEASE
                        )
                    else:
                        here = self.held().exists()
                    if not here:
                        stopped.set()
                except OperationalError:
                    continue  # told the next time; the work itself goes on
            return task.result()

    def _end(self, ending: dict) -> None:
        """Write the end of it; while that cannot be written, try again: it must not seem to go on
        for ever.
        """
        for _ in range(ENDINGS_TRIED):
            try:
                self.held().update(**ending, lease_until=None)
                return
            except OperationalError:
                time.sleep(1)

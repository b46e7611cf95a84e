"""A texture in memory, with ever smaller copies of itself for reading it from afar."""

import math
import threading
from collections.abc import Callable
from functools import cached_property

import numpy as np
from cachetools import LRUCache

from kilncore.blur import sigma_of
from kilncore.perspective.projection import Projection
from kilncore.pixels.luma import luminance_rows
from kilncore.textures import flaked, resample
from kilncore.textures.coarsely_laid import coarsely_laid
from kilncore.textures.copies import (
    halved,
    most_halved,
    places_in,
    read_variance,
    softened,
    unit_of,
)
from kilncore.textures.laid import laid
from kilncore.textures.resample import EDGES, NONE
from kilncore.textures.toned import most_folds, toned_blocks
from kilncore.textures.turned import turned, turned_mean

UPRIGHT_KEEPS, TURNED_KEEPS = 3.0, 2.0  # px of the smaller copy that is read, behind a pixel
TONED_TURNED, TONED_UPRIGHT = 1.7, 2.0  # the same of tones through levels, in drafts alone
TONED_PIXELS, TONED_KEPT = 4_500_000, 12
FLAKED_KEPT, SOFT_KEPT = 6, 6
MAPPED_COUNTS = 2 * 2**20  # bytes that a mapped file counts for: each is held open


class Texture:
    """planes : (C, H, W) uint8 or uint16, C = 1 grey, 3 colour, 4 colour and alpha, premultiplied.

    size : the width and height that it stands for, if that is not its planes' own. mapped : smaller
    copies that lie on disk as the planes do: they count for little. nbytes : that it holds now.
    grown : called when it has come to hold more.
    """

    def __init__(
        self,
        planes: np.ndarray,
        size: tuple[int, int] | None = None,
        mapped: list[np.ndarray] | None = None,
    ):
        planes = np.asarray(planes)
        self.planes = np.ascontiguousarray(
            planes, np.uint16 if planes.dtype == np.uint16 else np.uint8
        )
        self.size = size or (self.planes.shape[2], self.planes.shape[1])
        self._toned: LRUCache = LRUCache(TONED_KEPT)
        self._soft: LRUCache = LRUCache(SOFT_KEPT)
        self._flaked: LRUCache = LRUCache(FLAKED_KEPT)
        self._lock = threading.RLock()  # tiles ask from both threads
        self._mapped = mapped
        self.nbytes = MAPPED_COUNTS if mapped is not None else self.planes.nbytes
        self.grown: Callable[[], None] = lambda: None

    def _count(self) -> None:
        """Count what is held now: its planes, the smaller copies made so far, its luminance with
        those of its own.
        """
        with self._lock:
            made = [self.planes, *self.__dict__.get("_smaller", ())[1:]]
            on_disk = 0 if self._mapped is None else 1 + len(self._mapped)
            held = sum(copy.nbytes for copy in made[on_disk:]) + (MAPPED_COUNTS if on_disk else 0)
            held += sum(
                one.nbytes
                for kept in (self._toned, self._soft, self._flaked)
                for one in kept.values()
            )
            luminance = self.__dict__.get("luminance")
            self.nbytes = held + (
                luminance.nbytes if luminance is not None and luminance is not self else 0
            )
            self.grown()  # a number is read without a lock: whoever counts may hold one

    @cached_property
    def luminance(self) -> "Texture":
        """The texture as a mask: luma times alpha, in one channel; of colour, in 16 bits, or its
        mixtures would step.
        """
        if len(self.planes) == 1:
            return self
        mask = Texture(luminance_rows(self.planes)[None])
        mask.grown = self._count
        self.__dict__["luminance"] = mask
        self._count()
        return mask

    @cached_property
    def _smaller(self) -> list[np.ndarray]:
        return [self.planes, *(self._mapped or ())]

    def level(self, number: int) -> np.ndarray:
        """The texture halved `number` times, each made when first asked for, in 16 bits so that
        rounding does not add up.
        """
        with self._lock:
            made = self._smaller
            while len(made) <= number:
                _, height, width = made[-1].shape
                made.append(halved(made[-1], (width + 1) // 2, (height + 1) // 2))
                self._count()
            return made[number]

    def toned(
        self,
        ratio: float,
        turned: bool,
        black: float,
        gamma: float,
        white: float,
        read: float = 1.0,
    ) -> "Texture":
        """This mask's tones through levels, and their squares, before it is made smaller: a
        threshold and a mean do not change places.

        ratio : texture px per px of the finished picture, turned : whether it is turned there; it
        is first brought to about that many px and as soft as it is there, and further where it is
        very large. read : texture px per px at which it will be read. The last few are kept.
        """
        number = self._level_for(ratio, 1.0)
        while self.level(number).size > TONED_PIXELS:
            number += 1
        further = self._level_for(read, TONED_TURNED if turned else TONED_UPRIGHT) - number
        key = number, ratio, turned, black, gamma, white, max(further, 0)
        with self._lock:
            if key not in self._toned:
                tones = self._as_soft(number, ratio, turned)
                folds = most_folds(tones, further)
                made = Texture(toned_blocks(tones, black, gamma, white, folds), self.size)
                made.grown = self._count
                self._toned[key] = made
                self._count()
            return self._toned[key]

    def _as_soft(self, number: int, ratio: float, turned: bool) -> np.ndarray:
        """(H, W) tones of the copy halved `number` times, as soft as they are read at `ratio` px a
        pixel. The last few are kept: they stay while levels move."""
        left = (self._variance(ratio, turned) - (4**number - 1) / 12) / 4**number
        sigma = sigma_of(left)
        if not sigma:
            return self.level(number)[0]
        key = number, round(sigma, 6)
        if key not in self._soft:
            tones = softened(self.level(number)[0], sigma)
            self._soft[key] = np.rint(tones * np.float32(65535)).astype(np.uint16)
        return self._soft[key]

    def flaked(self, sigma: float, share: float, wraps: bool = True) -> "Texture":
        """This mask with larger specks, or, with a share below 0, with finer ones. sigma : px of
        the size that it stands for. The last few are kept.
        """
        key = round(sigma, 3), round(share, 3), wraps
        with self._lock:
            if key not in self._flaked:
                own = sigma * self.planes.shape[2] / self.size[0]
                planes = (
                    flaked.larger(self, own, wraps)
                    if share > 0
                    else flaked.finer(self, own, -share, wraps)
                )
                mask = Texture(planes[None], self.size)
                mask.grown = self._count
                self._flaked[key] = mask
                self._count()
            return self._flaked[key]

    def sample(
        self,
        matrix: tuple[float, ...],
        left: int,
        top: int,
        width: int,
        height: int,
        edges: str = "repeat",
        projection: Projection | None = None,
    ):
        """(C, height, width) float32, 0..1, of the output pixels from (left, top), and the share of
        each that it covers.

        matrix : as Frame.texture_matrix gives it. edges : beyond the texture, 'repeat' or 'mirror'
        it, or 'none'; the share is None unless edges is 'none'. projection : of what it lies on,
        from flat output px, that `matrix` is of, to output px.
        """
        policy = EDGES[edges]
        if projection is not None:
            return self._laid(projection, matrix, (left, top, width, height), policy)
        if matrix[1] == matrix[2] == 0:
            return self._upright(matrix, left, top, width, height, policy)
        return self._turned(matrix, left, top, width, height, policy)

    @property
    def unit(self) -> float:
        """What a stored value of full white is multiplied by to be 1."""
        return unit_of(self.planes)

    def pixel_on_pixel(self, matrix: tuple[float, ...], edges: str) -> tuple[int, int] | None:
        """The column and row of the texture at output pixel (0, 0), if it repeats and lies on whole
        pixels, as it is.
        """
        a, b, c, d, e, f = matrix
        column, row = e + self.size[0] / 2, f + self.size[1] / 2
        if (
            edges != "repeat"
            or b
            or c
            or not (_whole(a, column) and _whole(d, row))
            or self.size != self.planes.shape[:0:-1]
        ):
            return None
        return round(column), round(row)

    def _level_for(self, ratio: float, keep: float) -> int:
        """The smallest copy of which an output pixel still covers `keep` px or more."""
        ratio *= self.planes.shape[2] / self.size[0]
        return min(
            max(0, math.floor(math.log2(max(ratio / keep, 1)) + 1e-9)), most_halved(self.planes)
        )

    def _variance(self, ratio: float, turned: bool) -> float:
        """How soft reading at `ratio` px a pixel makes it (`copies.read_variance`)."""
        number = self._level_for(ratio, TURNED_KEEPS if turned else UPRIGHT_KEEPS)
        own = ratio * self.planes.shape[2] / self.size[0]
        return read_variance(number, own / 2**number, turned)

    def _upright(self, matrix: tuple, left: int, top: int, width: int, height: int, policy: int):
        a, _, _, d, e, f = matrix
        planes = self.level(self._level_for(abs(a), UPRIGHT_KEEPS))
        sx, sy = planes.shape[2] / self.size[0], planes.shape[1] / self.size[1]
        u, v = (e + self.size[0] / 2) * sx, (f + self.size[1] / 2) * sy
        if policy != NONE and sx == sy == 1 and _whole(a, u) and _whole(d, v):
            rows, columns = (
                resample.whole(*way, policy)
                for way in ((v + top, height, planes.shape[1]), (u + left, width, planes.shape[2]))
            )
            return resample.copied(planes, rows, columns, np.float32(unit_of(planes))), None
        across = resample.axis(u, a * sx, left, width, planes.shape[2], policy)
        down = resample.axis(v, d * sy, top, height, planes.shape[1], policy)
        share = (
            np.clip(np.outer(down[2], across[2]), 0, 1) if policy == NONE else None
        )  # cubic weights overshoot
        return resample.upright(planes, across, down, unit_of(planes)), share

    def _laid(self, projection: Projection, matrix: tuple, box: tuple, policy: int):
        read = coarsely_laid if projection.hasty else laid
        sampled = read(
            self.level,
            most_halved(self.planes),
            self.size,
            projection.back,
            matrix,
            box,
            policy,
            lambda planes: np.float32(unit_of(planes)),
        )
        return sampled[:-1], sampled[-1] if policy == NONE else None

    def _turned(self, matrix: tuple, left: int, top: int, width: int, height: int, policy: int):
        a, b, c, d, e, f = matrix
        ratio = math.hypot(a, b)
        planes = self.level(self._level_for(ratio, TURNED_KEEPS))
        sx, sy = planes.shape[2] / self.size[0], planes.shape[1] / self.size[1]
        u = (a * 0.5 + c * 0.5 + e + self.size[0] / 2) * sx - 0.5
        v = (b * 0.5 + d * 0.5 + f + self.size[1] / 2) * sy - 0.5
        steps = map(float, (a * sx, b * sy, c * sx, d * sy))
        unit = np.float32(unit_of(planes))
        if ratio * sx > 1 + 1e-9:
            sampled = turned_mean(
                planes, u, v, *steps, left, top, width, height, policy, places_in(ratio * sx), unit
            )
        else:
            sampled = turned(planes, u, v, *steps, left, top, width, height, policy, unit)
        return sampled[:-1], sampled[-1] if policy == NONE else None


def _whole(step: float, start: float) -> bool:
    return step == 1 and abs(start - round(start)) < 1e-9

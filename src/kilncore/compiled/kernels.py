"""Compiled functions: one decorator for all of them.

Every module with compiled functions imports `kernel` from here and never from Numba: where they are
kept (`kernel_cache`) must be settled before Numba reads its settings.
"""

import os
from typing import Any

import llvmlite.binding as llvm


def _whole_vectors() -> None:
    """Where the processor has vectors of 512 bits the compiler uses half of them, unless told so: 7
    % of a composite.
    """
    features = llvm.get_host_cpu_features()
    if features.get("avx512f"):
        os.environ.setdefault("NUMBA_CPU_FEATURES", f"{features.flatten()},-prefer-256-bit")


os.environ.setdefault("NUMBA_CACHE_LOCATOR_CLASSES", "kilncore.compiled.kernel_cache.Locator")
_whole_vectors()

import numba  # noqa: E402
from llvmlite import ir  # noqa: E402
from numba import types  # noqa: E402
from numba.extending import intrinsic as _intrinsic  # noqa: E402

__all__ = [
    "bytes16",
    "bytes8",
    "doubles",
    "floats",
    "inlined",
    "integers",
    "intrinsic",
    "ir",
    "kernel",
    "pointer",
    "rounded",
    "shorts",
    "subroutine",
    "types",
]

# Full fastmath lets the vector loop and its remainder differ, so that a pixel would depend on its
# tile. Flags by which the compiler may suppose that there are no infinities, and nothing that is
# not a number, would take away the very checks that see to it: min(max(least, value), most) is
# `least` for a value that is not a number, in this order and no other.
FASTMATH = {"nsz", "contract"}

# a compiled function takes what it was compiled for: its own signature says it
intrinsic: Any = _intrinsic
kernel: Any = numba.njit(cache=True, nogil=True, fastmath=FASTMATH, error_model="numpy")
# a kernel whose products and sums are rounded one by one, as NumPy rounds them
rounded: Any = numba.njit(cache=True, nogil=True, error_model="numpy")
# callees of kernels: compiled into their callers, never kept by themselves
inlined: Any = numba.njit(nogil=True, fastmath=FASTMATH, error_model="numpy", forceinline=True)
subroutine: Any = numba.njit(nogil=True, fastmath=FASTMATH, error_model="numpy")


def pointer(kind: Any):
    """A compiled function from an address to a pointer at values of that kind, read and written by
    index.

    A pointer costs nothing to make, where a view of an array's row costs more than a hundred of its
    pixels; and nothing guards it: whoever makes one keeps the memory alive and the index inside.
    """

    @intrinsic
    def at(context: Any, address: Any):
        def cast(context: Any, builder: Any, signature: Any, args: tuple):
            return builder.inttoptr(args[0], context.get_value_type(signature.return_type))

        return types.CPointer(kind)(types.int64), cast

    return at


floats, doubles, integers = pointer(types.float32), pointer(types.float64), pointer(types.int64)
bytes8, bytes16, shorts = pointer(types.uint8), pointer(types.uint16), pointer(types.int16)

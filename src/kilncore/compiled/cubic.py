"""Cubic convolution between 4 x 4 neighbours, in vectors of four.

Source: Keys 1981, a = -0.5. Written in the compiler's own terms, since a loop over single
neighbours takes three times as long and the processor's gather instructions longer still. Weights,
like all vectors here, are of four neighbours at once: c0 + t (c1 + t (c2 + t c3)).
"""

from typing import Any

from kilncore.compiled.kernels import intrinsic, ir, types

KEYS = ((0, 1, 0, 0), (-0.5, 0, 0.5, 0), (1, -2.5, 2, -0.5), (-0.5, 1.5, -1.5, 0.5))
FLOAT, LANE = ir.FloatType(), ir.IntType(32)
FOUR = ir.VectorType(FLOAT, 4)


def _lane(builder: Any, vector: Any, number: int):
    """One of its four in all places."""
    return builder.shuffle_vector(
        vector, ir.Constant(FOUR, ir.Undefined), ir.Constant(ir.VectorType(LANE, 4), [number] * 4)
    )


def _all(builder: Any, value: Any):
    return _lane(
        builder, builder.insert_element(ir.Constant(FOUR, ir.Undefined), value, LANE(0)), 0
    )


def _product_sum(builder: Any, a: Any, b: Any, c: Any):
    """a b + c, rounded once."""
    name = "llvm.fma.v4f32"
    fma = builder.module.globals.get(name) or ir.Function(
        builder.module, ir.FunctionType(FOUR, [FOUR] * 3), name
    )
    return builder.call(fma, [a, b, c])


def _weights(builder: Any, t: Any):
    t = _all(builder, t)
    c0, c1, c2, total = (ir.Constant(FOUR, list(map(float, line))) for line in KEYS)
    for c in (c2, c1, c0):
        total = _product_sum(builder, total, t, c)
    return total


def _four_at(builder: Any, address: Any):
    return builder.load(builder.inttoptr(address, FOUR.as_pointer()), align=4)


def _weighted(builder: Any, vectors: list, weights: Any):
    """The sum of four vectors, each times one of the weights."""
    total = builder.fmul(vectors[0], _lane(builder, weights, 0))
    for n in (1, 2, 3):
        total = _product_sum(builder, vectors[n], _lane(builder, weights, n), total)
    return total


def _further(builder: Any, address: Any, step: Any, times: int):
    return builder.add(address, builder.mul(step, ir.Constant(step.type, times)))


@intrinsic
def cubic_value(context: Any, address: int, row_bytes: int, u: float, v: float):
    """A plane's value u, v (0..1) to the right of and below the second of 4 x 4 values, the first
    of which is at `address`.
    """

    def code(context: Any, builder: Any, signature: Any, args: tuple):
        address, row_bytes, u, v = args
        rows = [_four_at(builder, _further(builder, address, row_bytes, n)) for n in range(4)]
        summed = builder.fmul(_weighted(builder, rows, _weights(builder, v)), _weights(builder, u))
        a, b, c, d = (builder.extract_element(summed, LANE(n)) for n in range(4))
        return builder.fadd(builder.fadd(a, b), builder.fadd(c, d))

    return types.float32(types.int64, types.int64, types.float32, types.float32), code


@intrinsic
def cubic_pixel(context: Any, out: int, address: int, row_bytes: int, u: float, v: float):
    """The same of interleaved pixels of four channels, written to `out`."""

    def code(context: Any, builder: Any, signature: Any, args: tuple):
        out, address, row_bytes, u, v = args
        across, rows = _weights(builder, u), []
        for n in range(4):
            row = _further(builder, address, row_bytes, n)
            rows.append(
                _weighted(
                    builder,
                    [_four_at(builder, _further(builder, row, row.type(16), m)) for m in range(4)],
                    across,
                )
            )
        builder.store(
            _weighted(builder, rows, _weights(builder, v)),
            builder.inttoptr(out, FOUR.as_pointer()),
            align=4,
        )
        return context.get_dummy_value()

    return types.void(types.int64, types.int64, types.int64, types.float32, types.float32), code

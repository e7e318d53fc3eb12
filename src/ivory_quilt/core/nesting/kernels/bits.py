"""Sets of small numbers as bits: walking them costs the processor one guess, not one each."""

from numba import njit, types
from numba.extending import intrinsic


@intrinsic
def lowest_bit(_typingctx, bits):
    """Return the number of the lowest bit set in an int64 that is not 0."""
    if bits != types.int64:
        return None

    def build(context, builder, _signature, args):
        poison = context.get_constant(types.boolean, 1)
        return builder.cttz(args[0], poison)

    return types.int64(types.int64), build


@njit(nogil=True, cache=True, forceinline=True)
def without_lowest(bits):
    """Return `bits` without the lowest bit set."""
    return bits & (bits - 1)

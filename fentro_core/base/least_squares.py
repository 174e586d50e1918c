"""A small symmetric system of equations, solved and inverted by Cholesky's method; no package for it runs on every device."""

from __future__ import annotations

from collections.abc import Sequence
from math import sqrt
from operator import mul

Matrix = list[list[float]]


def dot(one: Sequence[float], other: Sequence[float]) -> float:
    """Sum of products, as far as the shorter goes."""
    return float(sum(map(mul, one, other)))


def times(matrix: Matrix, vector: Sequence[float]) -> list[float]:
    """Matrix times vector."""
    return [dot(row, vector) for row in matrix]


def cholesky(matrix: Matrix) -> Matrix:
    """Lower triangle L with ``L Lᵀ = matrix``, which must be symmetric and positive definite.

    >>> cholesky([[4.0, 2.0], [2.0, 5.0]])
    [[2.0], [1.0, 2.0]]
    """
    lower: Matrix = []
    for i, row in enumerate(matrix):
        mine: list[float] = []
        for j in range(i):
            other = lower[j]
            mine.append((row[j] - dot(mine, other)) / other[j])
        mine.append(sqrt(row[i] - dot(mine, mine)))
        lower.append(mine)
    return lower


def solved(lower: Matrix, right: list[float]) -> list[float]:
    """x with ``L Lᵀ x = right``.

    >>> solved(cholesky([[4.0, 2.0], [2.0, 5.0]]), [8.0, 12.0])
    [1.0, 2.0]
    """
    return _backward(lower, _columns(lower), right)


def _columns(lower: Matrix) -> Matrix:
    """Below the diagonal, by column."""
    return [[lower[k][i] for k in range(i + 1, len(lower))] for i in range(len(lower))]


def _backward(lower: Matrix, columns: Matrix, right: Sequence[float]) -> list[float]:
    y: list[float] = []
    for row, value in zip(lower, right, strict=True):
        y.append((value - dot(y, row)) / row[-1])
    x: list[float] = []
    for i in range(len(lower) - 1, -1, -1):
        x.insert(0, (y[i] - dot(x, columns[i])) / lower[i][i])
    return x


def inverse(lower: Matrix) -> Matrix:
    """The inverse of ``L Lᵀ``."""
    count, columns = len(lower), _columns(lower)
    return [_backward(lower, columns, [1.0 if i == j else 0.0 for i in range(count)]) for j in range(count)]

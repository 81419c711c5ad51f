"""Student's distribution for whole degrees of freedom, exactly, and the sign test."""

from __future__ import annotations

import math


def student_cdf(t: float, df: int) -> float:
    """Chance of at most t. Finite series (Abramowitz and Stegun 26.7.3, 26.7.4). Raises ValueError below one degree of freedom."""
    if df < 1:
        raise ValueError("Student's distribution needs at least one degree of freedom")
    angle = math.atan(t / math.sqrt(df))
    c2, s = math.cos(angle) ** 2, math.sin(angle)
    term = math.cos(angle) if df % 2 else 1.0
    total = 0.0
    for k in range(df // 2):
        total += term
        term *= c2 * ((2 * k + 2) / (2 * k + 3) if df % 2 else (2 * k + 1) / (2 * k + 2))
    inside = 2 / math.pi * (angle + s * total) if df % 2 else s * total
    return 0.5 + inside / 2


def student_quantile(p: float, df: int) -> float:
    """The t with chance p of at most t, for p above one half; by bisection."""
    low, high = 0.0, 2.0
    while student_cdf(high, df) < p:
        high *= 2
    for _ in range(200):
        middle = (low + high) / 2
        low, high = (middle, high) if student_cdf(middle, df) < p else (low, middle)
    return (low + high) / 2


def student_p(t: float, df: int) -> float:
    """Two-sided chance of at least |t|."""
    return 2 * (1 - student_cdf(abs(t), df))


def sign_test(ups: int, of: int) -> float:
    """Two-sided chance that of so many that moved at least so lopsided a number went one way, if either way were as likely."""
    if not 0 <= ups <= of or of < 1:
        raise ValueError("a sign test needs at least one that moved")
    tail: float = sum(math.comb(of, k) for k in range(max(ups, of - ups), of + 1)) / 2**of
    return min(1.0, 2 * tail)

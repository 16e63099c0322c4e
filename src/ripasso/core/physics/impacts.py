"""Impacts: of two balls, and of a ball on rubber.

Sources, from memory: Marlow (1995) for the throw; I. Han, "Dynamics in carom and three cushion billiards",
J. Mech. Sci. Tech. 19(4) (2005) for cushions, with friction capped as Coulomb says.
"""

from __future__ import annotations

import math

from ripasso.core.physics.compiling import compile_
from ripasso.core.physics.flight import (
    E_BALL,
    E_CUSHION,
    K0,
    K1,
    K2,
    MASS,
    MU_CUSHION,
    RADIUS,
    SIN_NOSE,
)

#: The least speed at which two balls part, and below which a cushion does not throw back (m/s).
LEAST_PARTING, DEAD = 1e-4, 1e-4


@compile_
def collide(one, two, constants):  # type: ignore[no-untyped-def]
    """The impact of two balls that touch; both states are changed."""
    radius, mass = constants[RADIUS], constants[MASS]
    nx, ny = two[0] - one[0], two[1] - one[1]
    away = math.hypot(nx, ny)
    nx, ny = nx / away, ny / away
    dx, dy = one[2] - two[2], one[3] - two[3]
    sx, sy, sz = one[4] + two[4], one[5] + two[5], one[6] + two[6]
    approach = dx * nx + dy * ny
    slip_t = -dx * ny + dy * nx + radius * sz
    slip_z = radius * (sx * ny - sy * nx)
    slip = math.hypot(slip_t, slip_z)
    normal = mass * max(0.5 * (1.0 + constants[E_BALL]) * approach, 0.5 * (approach + LEAST_PARTING))
    friction = constants[K0] + constants[K1] * math.exp(-constants[K2] * slip)
    along = min(mass * slip / 7.0, friction * normal)
    jt = jz = 0.0
    if slip > 0.0:
        jt, jz = -along * slip_t / slip, -along * slip_z / slip
    px, py = -normal * nx - jt * ny, -normal * ny + jt * nx
    one[2] += px / mass
    one[3] += py / mass
    two[2] -= px / mass
    two[3] -= py / mass
    turn = 2.5 / (mass * radius)
    for ball in (one, two):
        ball[4] += turn * ny * jz
        ball[5] -= turn * nx * jz
        ball[6] += turn * jt


@compile_
def rebound(state, nx, ny, constants):  # type: ignore[no-untyped-def]
    """The impact on rubber whose normal into the cushion is given; the state is changed."""
    radius, mass = constants[RADIUS], constants[MASS]
    sine = constants[SIN_NOSE]
    cosine = math.sqrt(1.0 - sine * sine)
    tx, ty = -ny, nx
    v_n, v_t = state[2] * nx + state[3] * ny, state[2] * tx + state[3] * ty
    w_n, w_t = state[4] * nx + state[5] * ny, state[4] * tx + state[5] * ty
    w_z = state[6]
    if v_n < DEAD:
        v_n, w_t = 0.0, 0.0
    else:
        s1 = v_n * sine + radius * w_t
        s2 = v_t + radius * (w_z * cosine - w_n * sine)
        slip = math.hypot(s1, s2)
        normal = (1.0 + constants[E_CUSHION]) * mass * v_n * cosine
        along = min(2.0 / 7.0 * mass * slip, constants[MU_CUSHION] * normal)
        t1 = t2 = 0.0
        if slip > 0.0:
            t1, t2 = -along * s1 / slip, -along * s2 / slip
        turn = 2.5 / (mass * radius)
        v_n -= (normal * cosine - t1 * sine) / mass
        v_t += t2 / mass
        w_n -= turn * t2 * sine
        w_t += turn * t1
        w_z += turn * t2 * cosine
    state[2], state[3] = v_n * nx + v_t * tx, v_n * ny + v_t * ty
    state[4], state[5] = w_n * nx + w_t * tx, w_n * ny + w_t * ty
    state[6] = w_z

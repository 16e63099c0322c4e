"""How a ball moves between events: on the cloth it slides, then rolls, then spins upright, then rests.

Sources, from memory: G.-G. Coriolis, "Théorie mathématique des effets du jeu de billard" (1835);
W. C. Marlow, "The Physics of Pocket Billiards" (1995). A state is a row (x, y, vx, vy, wx, wy, wz).
"""

from __future__ import annotations

import math

from ripasso.core.physics.compiling import compile_

#: What a ball does.
REST, SPINNING, ROLLING, SLIDING, POCKETED = 0, 1, 2, 3, 4

#: Constants in the order of `Physics.as_array`.
RADIUS, MASS, GRAVITY, MU_S, MU_R, SPIN_DOWN, E_BALL, K0, K1, K2, E_CUSHION, MU_CUSHION, SIN_NOSE = range(13)

#: Below these a speed (m/s) or a spin (rad/s) is none.
NO_SPEED, NO_SPIN = 1e-9, 1e-9


@compile_
def settle(state, constants):  # type: ignore[no-untyped-def]
    """What a ball does with a state; the state is made exact (rolling without slip, no rests of speed)."""
    radius = constants[RADIUS]
    if abs(state[6]) < NO_SPIN:
        state[6] = 0.0
    slip_x, slip_y = state[2] - radius * state[5], state[3] + radius * state[4]
    if math.hypot(slip_x, slip_y) >= NO_SPEED:
        return SLIDING
    if math.hypot(state[2], state[3]) >= NO_SPEED:
        state[4], state[5] = -state[3] / radius, state[2] / radius
        return ROLLING
    state[2] = state[3] = state[4] = state[5] = 0.0
    return SPINNING if state[6] != 0.0 else REST


@compile_
def course(state, kind, constants, out):  # type: ignore[no-untyped-def]
    """Acceleration (out[0], out[1]) of what a ball does and how long it lasts (out[2])."""
    out[0] = out[1] = 0.0
    out[2] = math.inf
    if kind == SLIDING:
        radius, push = constants[RADIUS], constants[MU_S] * constants[GRAVITY]
        slip_x, slip_y = state[2] - radius * state[5], state[3] + radius * state[4]
        slip = math.hypot(slip_x, slip_y)
        out[0], out[1] = -push * slip_x / slip, -push * slip_y / slip
        out[2] = 2.0 * slip / (7.0 * push)
    elif kind == ROLLING:
        push, speed = constants[MU_R] * constants[GRAVITY], math.hypot(state[2], state[3])
        out[0], out[1] = -push * state[2] / speed, -push * state[3] / speed
        out[2] = speed / push
    elif kind == SPINNING:
        out[2] = abs(state[6]) / constants[SPIN_DOWN]


@compile_
def fly(state, ax, ay, kind, dt, constants):  # type: ignore[no-untyped-def]
    """The state after a time, as long as the ball does the same."""
    if kind == REST or kind == POCKETED:  # noqa: PLR1714, SIM109  (compiled: a set would be built)
        return
    spin = constants[SPIN_DOWN] * dt
    if abs(state[6]) <= spin:
        state[6] = 0.0
    else:
        state[6] -= math.copysign(spin, state[6])
    if kind == SPINNING:
        return
    state[0] += (state[2] + 0.5 * ax * dt) * dt
    state[1] += (state[3] + 0.5 * ay * dt) * dt
    state[2] += ax * dt
    state[3] += ay * dt
    radius = constants[RADIUS]
    if kind == ROLLING:
        state[4], state[5] = -state[3] / radius, state[2] / radius
    else:
        state[4] += 2.5 / radius * ay * dt
        state[5] -= 2.5 / radius * ax * dt

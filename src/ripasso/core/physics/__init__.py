"""How balls move: stroke, cloth, impacts, pockets; one stroke simulated or many with a player's spread.

Metres, kilograms, seconds, radians in the frame of the table: x along its length from the head end, y across
it to the left of a player at the head end, z up. Angles are counter-clockwise from x. Compiled by numba at
first use and kept; import its parts where they are used, as the compiler is slow to load.
"""

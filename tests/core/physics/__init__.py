"""How balls move: against a slow integrator, handbooks, and what must hold for every stroke."""

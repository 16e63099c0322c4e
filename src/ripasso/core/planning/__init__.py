"""What a stroke is worth and what else could have been played: everything on the simulator and the rules."""

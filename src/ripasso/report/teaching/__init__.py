"""Teaching films: scenes of shots that stop before the stroke, with what was meant and what came drawn in."""

"""What the simulator says of a shot, kept in its record: planned options, weighed choices; no words."""

"""Speed, as ratios within one run."""

"""What a good player sees of a layout: pockets, clusters, links, groups, break balls; no words."""

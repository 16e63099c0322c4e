"""Reports: pages made of blocks, the same for screen and paper, and what else goes out of the library."""

"""The steps from one version of the library to the next, one module each; a step never changes again."""

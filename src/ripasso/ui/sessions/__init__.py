"""The Sessions workspace: every session of the library; new, import, export, resume."""

"""Ripasso: review of recorded pool and snooker, shot by shot."""

__version__ = "0.1.0"

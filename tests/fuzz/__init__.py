"""Damaged and hostile input, made from a seed: what comes in is used, or refused with one sentence."""

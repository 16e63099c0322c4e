"""Measures of single shots and of the film's time, from plain values; what is counted over many shots is in
`core.figures`.
"""

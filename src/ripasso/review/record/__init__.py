"""The record of a session as a file holds it: models, values, reading, people, proposals. Nothing here
changes a session; that is `review.document` and `review.entry`.
"""

"""Practice in numbers: what is due, whether a set passed, weak spots, timetables, progress, table checks.

Plain values in and out; what an exercise is called and how it is drawn belongs to `review.practice`.
"""

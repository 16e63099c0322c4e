"""What a key, a click or a typed word means for a record: each function gives a command. How a record is
shown is in `review.present`.
"""

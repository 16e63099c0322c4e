"""Words: vocabulary, the two traditions, glossary, and the line in which a shot can be typed. What words do
to a record is in `review.entry`.
"""

"""From records to measures, and the cache of what was measured. The measures themselves are in
`core.measures`.
"""

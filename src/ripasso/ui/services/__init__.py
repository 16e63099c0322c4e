"""What every workspace uses and no page owns: background work, messages, settings, search, measuring,
localization.
"""

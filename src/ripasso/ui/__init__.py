"""The window: PyQt6. It composes and listens; it computes nothing that another package could."""

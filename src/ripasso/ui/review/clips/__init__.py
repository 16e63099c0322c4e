"""Films of shots that go out of Review: what is asked first, and the writing in the background."""

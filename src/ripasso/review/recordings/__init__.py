"""What a session says of its recordings: stretches, camera views, and the shots a film proposed."""

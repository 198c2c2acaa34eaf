"""Files in and out: bytes → checked values, and values → text."""

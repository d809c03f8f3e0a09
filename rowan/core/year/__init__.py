"""The year: weather on the plane, and the loop minute by minute."""

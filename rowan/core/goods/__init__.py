"""What is bought and where it stands: items as a plan keeps them, the generic catalogue, places, ratings and prices."""

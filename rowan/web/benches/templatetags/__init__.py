"""Tags of the bench pages."""

"""Revisions of a plan, and plans side by side."""

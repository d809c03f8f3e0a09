"""Whole jobs, and a firm's whole book, as one open file and back."""

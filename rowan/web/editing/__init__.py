"""Inputs opened in the sentence: shown, typed, refused beside the field."""

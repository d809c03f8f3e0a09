"""Differences, loss floor and why pumps hunt."""

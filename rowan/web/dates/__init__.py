"""Visits: who comes where and when; the week, a calendar to take away, a job's own page."""

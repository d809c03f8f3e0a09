"""Customers, sites, and how a job stands with them: what is personal, apart from plans and records."""
